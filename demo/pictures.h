#pragma once

#include "core/image/image.h"

/// Pictures of the demo that are drawn, not rendered: scene-linear, premultiplied.
namespace retinex::demo {

/// A clear night: hills, the last light above them, stars and a moon.
[[nodiscard]] RgbaImage nightSky(int width, int height);
/// Spilled soil as seen from above, with loose crumbs at its rim.
[[nodiscard]] RgbaImage soil(int width, int height);

} // namespace retinex::demo
