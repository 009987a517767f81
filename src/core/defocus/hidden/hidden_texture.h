#pragma once

#include "core/defocus/hidden/ring_growth.h"

namespace retinex::defocus {

/// What a hidden surface looks like where it was continued behind a near one that has an end on both sides (a
/// bar, a stalk): of the straight lines through the pixel, those count whose two ends look most alike, each
/// interpolated between its ends. Stripes and edges go on behind the bar; a mean of what is around would wash
/// them out. Lines also tell which surface it is: where those with both ends on another one weigh more, that
/// one goes on there, so that the outline between two surfaces is straight behind what crosses it, however
/// their rings met. `rings` tells where hidden surface is known and where it was continued. Pixels that no
/// line crosses keep what they have. Returns how sure each is, 0 to 1: how alike the ends of a line
/// through it look, at most.
[[nodiscard]] Plane<float> drawHiddenTexture(Surfaces& surfaces, const Rings& rings,
                                             const TypicalBrightness& typical, const Run& run);

} // namespace retinex::defocus
