#pragma once

#include "core/defocus/hidden/ring_growth.h"

namespace retinex::defocus {

/// Guesses fade into their surroundings with their distance from all that is seen: each is mixed with the
/// mean of what lies around it, over a width that grows with that distance, and the less it is mixed the
/// surer it is. So guesses that came from different sides meet without a rim. `sure` (0..1) tells how alike
/// the ends of the lines look that drew a pixel; what is seen itself is not touched. Colours of
/// `surfaces.hidden` are not multiplied by evidence yet.
void fadeGuesses(Surfaces& surfaces, const Rings& rings, const Plane<float>& sure, const Run& run);

} // namespace retinex::defocus
