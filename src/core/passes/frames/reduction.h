#pragma once

namespace retinex::passes {

/// Smaller pictures of a large one are made by way of one that is 1/n of its size and is kept: sizes that are
/// 1/(a multiple of n) come quickly one after the other. 1 for pictures up to HD.
[[nodiscard]] constexpr int reductionStep(int width, int height) noexcept
{
    constexpr double quick = 1920.0 * 1080.0;
    int step = 1;
    while (static_cast<double>(width / step) * (height / step) > quick)
        step *= 2;
    return step;
}

} // namespace retinex::passes
