#pragma once

#include "core/image/image.h"

#include <cstddef>
#include <cstdint>
#include <vector>

namespace retinex::depth {

/// Where the distances of a frame lie.
struct DepthRange
{
    double nearest = 0.0;  ///< of all finite distances
    double farthest = 0.0; ///< of all finite distances
    std::size_t gapCount = 0;
    std::size_t pixelCount = 0;
    [[nodiscard]] bool hasSurface() const noexcept { return gapCount < pixelCount; }
};

[[nodiscard]] DepthRange depthRange(const Plane<float>& distance);
/// Leaves out what `gaps` marks (1), whatever distance it was given; infinite distances too.
[[nodiscard]] DepthRange depthRange(const Plane<float>& distance, const Plane<std::uint8_t>& gaps);

/// Counts of finite distances in `bins` equal steps of log distance from `nearest` to `farthest` (both > 0);
/// what lies outside is counted in the end bins. Gaps are not counted.
[[nodiscard]] std::vector<float> logHistogram(const Plane<float>& distance, double nearest, double farthest,
                                              int bins);

} // namespace retinex::depth
