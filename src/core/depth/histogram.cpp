#include "core/depth/histogram.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace retinex::depth {

DepthRange depthRange(const Plane<float>& distance)
{
    DepthRange range;
    range.pixelCount = distance.size();
    float nearest = std::numeric_limits<float>::infinity();
    float farthest = 0.0F;
    for (const float value : distance.pixels()) {
        if (!std::isfinite(value)) {
            ++range.gapCount;
            continue;
        }
        nearest = std::min(nearest, value);
        farthest = std::max(farthest, value);
    }
    if (range.hasSurface()) {
        range.nearest = nearest;
        range.farthest = farthest;
    }
    return range;
}

std::vector<float> logHistogram(const Plane<float>& distance, double nearest, double farthest, int bins)
{
    std::vector<float> counts(static_cast<std::size_t>(bins), 0.0F);
    const double low = std::log(nearest);
    const double scale = bins / std::max(std::log(farthest) - low, 1e-12);
    for (const float value : distance.pixels()) {
        if (!std::isfinite(value)) continue;
        const int bin = std::clamp(static_cast<int>((std::log(value) - low) * scale), 0, bins - 1);
        counts[static_cast<std::size_t>(bin)] += 1.0F;
    }
    return counts;
}

} // namespace retinex::depth
