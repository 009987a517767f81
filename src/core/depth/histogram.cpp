#include "core/depth/histogram.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace retinex::depth {

namespace {

template <class IsGap>
DepthRange rangeOf(const Plane<float>& distance, IsGap isGap)
{
    DepthRange range;
    range.pixelCount = distance.size();
    float nearest = std::numeric_limits<float>::infinity();
    float farthest = 0.0F;
    for (std::size_t i = 0; i < distance.size(); ++i) {
        const float value = distance.pixels()[i];
        if (!std::isfinite(value) || isGap(i)) {
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

} // namespace

DepthRange depthRange(const Plane<float>& distance)
{
    return rangeOf(distance, [](std::size_t) { return false; });
}

DepthRange depthRange(const Plane<float>& distance, const Plane<std::uint8_t>& gaps)
{
    return rangeOf(distance, [&](std::size_t i) { return gaps.pixels()[i] != 0; });
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
