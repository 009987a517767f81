#pragma once

#include "core/defocus/hidden/ring_growth.h"

namespace retinex::defocus {

/// Several things behind each other: makes `surfaces.third`, where there is any of it.
///
/// *Behind the hidden surface*, where that ends and is much more blurred than what shows beside it, the
/// latter goes on: at the corner where a bar crosses another, the wall lies behind both.
///
/// *Between the visible and the hidden surface* goes on what shows at both ends of a straight line through
/// nearer things: a bar behind another bar, a ball behind a bar before a wall.
///
/// `rings` tells where `surfaces.hidden` is, and its colours are not multiplied by evidence yet, as
/// growInwards leaves both.
void continueBehindNearer(Surfaces& surfaces, const Rings& rings, const TypicalBrightness& typical,
                          const Run& run);

} // namespace retinex::defocus
