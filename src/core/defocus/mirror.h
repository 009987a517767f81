#pragma once

#include "core/defocus/defocus.h"

namespace retinex::defocus {

/// Frame edge *mirror*: the picture is continued by itself as far as the blur reaches, and cut out again.
[[nodiscard]] RgbaImage defocusMirrored(const RgbaImage& colour, const Plane<float>& distance,
                                        const LensSettings& settings, const Run& run,
                                        const ObjectShares* objects);
[[nodiscard]] RgbaImage defocusMirrored(const DeepPicture& deep, const LensSettings& settings,
                                        const Run& run);

} // namespace retinex::defocus
