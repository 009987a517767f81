#pragma once

#include "core/defocus/defocus.h"

namespace retinex::bench {

/// The method of engine.md in its simplest form, the floor that the engine has to leave behind: every pixel
/// in the nearest slice (steps of 1 px to 12 px, then 8 %), slices spread whole, gathered front to back with
/// a coverage budget in two groups, the back group's holes filled from a pyramid before the front goes over
/// it. No edge repair, no sharing between slices. Its code is its own; it shares the engine's iris outline
/// only.
[[nodiscard]] RgbaImage probe(const RgbaImage& colour, const Plane<float>& radiusPx,
                              const optics::Iris& iris);

} // namespace retinex::bench
