#pragma once

#include "reference/tracer.h"

#include <array>

/// A sign with a seed packet drawn on it, slanted to the camera of the greenhouse's second shot, so that its
/// face leans out of a thin sharp zone at both sides. It glows evenly by itself: how it stands changes where
/// it is, not how bright it is.
namespace retinex::reference {

enum class SignPose {
    slanted,
    flatOn ///< each of its points moved along its ray to one planar distance: through a pinhole it looks the
           ///< same
};

/// Top left, top right, bottom right, bottom left of the slanted face, as the second shot sees it.
[[nodiscard]] std::array<Vec, 4> signCorners();

/// `camera` and `distance` (metres, planar) are where flatOn stands.
void addSign(Scene& scene, SignPose pose, const Camera& camera, float distance);

} // namespace retinex::reference
