#pragma once

#include "core/defocus/edge_repair.h"

namespace retinex::defocus {

/// How blurred a hidden surface may be, at most, to be continued behind a near one of radius `own`: up to so
/// many px it counts in full, at twice that no more.
[[nodiscard]] float allowedBlur(float own);

/// Continues `layer` from where it is there, ring by ring, behind what has the radii `before`, where that is
/// nearer and so much more blurred: as far as the two blurs together reach. Colours are not multiplied by
/// evidence yet. Returns the ring of each pixel: 0 where the layer was, -1 where it does not reach.
[[nodiscard]] Plane<int> growInwards(const Plane<float>& before, SurfaceLayer& layer,
                                     const TypicalBrightness& typical, const Run& run);

/// Decides how far each continued pixel counts, and multiplies colours by evidence.
void settleGrown(const Plane<float>& before, const Plane<int>& ringOf, SurfaceLayer& layer, const Run& run);

} // namespace retinex::defocus
