#pragma once

#include "core/defocus/defocus.h"
#include "core/image/pixel_box.h"

namespace retinex::defocus {

/// Only a part of the picture through the lens, for a view that shows no more: `part` lies inside the
/// picture. Computed from what light reaches it and what edge repair looks at; it differs from the same
/// pixels of the whole by less than can be seen (wide holes are filled from what is near, not from all of the
/// picture).
[[nodiscard]] RgbaImage defocusPart(const LensInput& input, const LensSettings& settings,
                                    const PixelBox& part, const Run& run = {});

} // namespace retinex::defocus
