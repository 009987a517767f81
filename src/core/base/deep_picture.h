#pragma once

#include <array>
#include <cstddef>
#include <vector>

namespace retinex {

/// A picture with several samples a pixel, each a surface of its own. What a sample shows is its colour times
/// the transparency of those in front of it ("over").
struct DeepPicture
{
    struct Sample
    {
        std::array<float, 4> colour{}; ///< R, G, B, A: scene-linear, premultiplied by its own alpha
        float depth = 0.0F; ///< as stored, or distance (scene units, +inf for none): the owner says
    };

    int width = 0;
    int height = 0;
    /// Pixel i (row after row) has the samples first[i] to first[i + 1]; width * height + 1 long.
    std::vector<std::size_t> first;
    std::vector<Sample> samples; ///< of a pixel front to back

    [[nodiscard]] std::size_t firstOf(int x, int y) const noexcept
    {
        return first[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) +
                     static_cast<std::size_t>(x)];
    }
    [[nodiscard]] std::size_t endOf(int x, int y) const noexcept
    {
        return first[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) +
                     static_cast<std::size_t>(x) + 1];
    }
};

} // namespace retinex
