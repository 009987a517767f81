#pragma once

#include "core/image/image.h"
#include "core/system/run.h"

namespace retinex::inserts {

/// Whether a picture's colour is not multiplied by its alpha: told from soft pixels beside opaque ones, which
/// are about as bright as these where it is not, and darker by their alpha where it is. False where there are
/// too few to tell.
[[nodiscard]] bool looksUnmultiplied(const RgbaImage& picture);

/// Multiplied by its alpha.
[[nodiscard]] RgbaImage multipliedByAlpha(RgbaImage picture, const Run& run);

} // namespace retinex::inserts
