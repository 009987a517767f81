#pragma once

#include "core/image/image.h"
#include "core/system/run.h"

namespace retinex::tracking {

/// Brightness of a scene-linear picture, 0..1 as it is seen: toned by x / (1 + x) and a gamma of 1/2.2.
[[nodiscard]] Plane<float> trackingPicture(const RgbaImage& colour, const Run& run = {});

} // namespace retinex::tracking
