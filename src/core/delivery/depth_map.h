#pragma once

#include "core/image/image.h"
#include "core/project/delivery.h"

namespace retinex::delivery {

/// A depth map for depth-driven photos and other programs.
struct DepthMap
{
    bool nearIsBright = true;
    project::MapSpacing spacing = project::MapSpacing::reciprocal;
    double nearest = 0.0;  ///< scene units, above 0
    double farthest = 0.0; ///< beyond nearest; may be infinite where it is even in 1/distance
};

/// 0 to 1 for each distance d: t = (d - n) / (f - n), or (1/n - 1/d) / (1/n - 1/f), held to 0..1; near is
/// bright as 1 - t, else t. Gaps are as far as can be. Throws Error where the ends do not fit.
[[nodiscard]] Plane<float> depthMap(const Plane<float>& distance, const Plane<std::uint8_t>& gaps,
                                    const DepthMap& map);

} // namespace retinex::delivery
