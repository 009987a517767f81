#pragma once

#include "core/base/image.h"

#include <cstddef>

/// From stored numbers to distance. Inside, depth is always planar distance in scene units, +inf where there
/// is no surface.
namespace retinex::depth {

/// The rule that turns stored numbers into distance.
enum class Reading { distanceFromCameraPlane };

/// A *gap* is a pixel with no depth: 0, below 0, infinite or NaN.
[[nodiscard]] bool isGap(float stored) noexcept;

struct DistanceResult
{
    Plane<float> distance;    ///< scene units; +inf in gaps, which stand at the far end
    std::size_t gapCount = 0; ///< pixels
};

[[nodiscard]] DistanceResult toDistance(const Plane<float>& stored, Reading reading);

} // namespace retinex::depth
