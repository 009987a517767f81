#pragma once

#include "core/depth/depth_reading.h"

namespace retinex::depth {

/// Gives gaps the distance that the rules say: the far end (+inf), a number, or that of the nearest pixel
/// with depth (by 8-neighbour steps of 1 and sqrt 2, the chamfer of Borgefors, "Distance transformations in
/// digital images", CVGIP 34, 1986); values are taken over, never blended. Returns how many gaps there are.
/// Where no pixel has depth, neighbours give the far end.
std::size_t placeGaps(Plane<float>& distance, const Plane<std::uint8_t>& gaps, const GapRules& rules);

} // namespace retinex::depth
