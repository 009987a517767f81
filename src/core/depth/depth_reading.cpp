#include "core/depth/depth_reading.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace retinex::depth {

bool isGap(float stored) noexcept
{
    return !(stored > 0.0F) || !std::isfinite(stored);
}

DistanceResult toDistance(const Plane<float>& stored, Reading)
{
    DistanceResult result{Plane<float>(stored.width(), stored.height()), 0};
    const auto distanceOf = [&result](float value) {
        if (!isGap(value)) return value;
        ++result.gapCount;
        return std::numeric_limits<float>::infinity();
    };
    std::transform(stored.pixels().begin(), stored.pixels().end(), result.distance.pixels().begin(),
                   distanceOf);
    return result;
}

} // namespace retinex::depth
