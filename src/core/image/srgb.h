#pragma once

#include <cmath>

namespace retinex {

/// The curve of IEC 61966-2-1: scene-linear light as a screen's number. Its power goes on above 1; below 0 it
/// is mirrored.
[[nodiscard]] inline float toSrgb(float light) noexcept
{
    const float a = std::abs(light);
    return std::copysign(a <= 0.0031308F ? 12.92F * a : 1.055F * std::pow(a, 1.0F / 2.4F) - 0.055F, light);
}

[[nodiscard]] inline float fromSrgb(float number) noexcept
{
    const float a = std::abs(number);
    return std::copysign(a <= 0.04045F ? a / 12.92F : std::pow((a + 0.055F) / 1.055F, 2.4F), number);
}

} // namespace retinex
