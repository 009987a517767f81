#pragma once

#include "core/defocus/hidden/ring_growth.h"

namespace retinex::defocus {

/// Share of a pixel's near part from which the colour of its far part is no more than a guess.
inline constexpr float kHardlySeen = 0.5F;

/// Guesses that are torn are made whole: edges in what was continued (teeth where lines of two surfaces met,
/// islands of one in the other, spikes) are smoothed along themselves, pieces against pieces rather than
/// pixel by pixel, and stay fixed where they meet what is seen. Each round gives a pixel the colour and
/// radius of the median of those around it, along the axis in which they differ most: a median moves an edge
/// as fast as it is bent (Guichard and Morel, "Partial differential equations and image iterative filtering",
/// 1997), so that teeth go and straight edges stay. Colours of `surfaces.hidden` are not multiplied by
/// evidence yet.
void calmGuesses(Surfaces& surfaces, const Rings& rings, const TypicalBrightness& typical, const Run& run);

} // namespace retinex::defocus
