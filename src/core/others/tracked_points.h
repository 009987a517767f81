#pragma once

#include "core/image/image.h"
#include "core/others/solve_camera.h"
#include "core/system/run.h"

#include <vector>

namespace retinex::others {

/// Points of one frame found again in another one: corners (Shi and Tomasi 1994) away from where surfaces
/// meet, followed by the pyramidal method of Lucas and Kanade (1981; Bouguet 2000), those kept that come back
/// when followed the other way. All of one size; `distance` belongs to `from`.
[[nodiscard]] std::vector<Match> trackedPoints(const RgbaImage& from, const Plane<float>& distance,
                                               const RgbaImage& to, const Run& run = {});

} // namespace retinex::others
