#pragma once

#include <algorithm>
#include <cmath>

namespace retinex::others {

/// Share of the distance by which neighbours on one surface differ at most.
constexpr float kOneSurface = 0.05F;

[[nodiscard]] inline bool isOneSurface(float a, float b)
{
    if (std::isinf(a) || std::isinf(b)) return std::isinf(a) && std::isinf(b);
    return std::abs(a - b) <= kOneSurface * std::min(a, b);
}

} // namespace retinex::others
