#pragma once

#include "core/defocus/repair/unmix.h"

#include <optional>

/// What an edge pixel's share tells: where in the pixel its light lies, and, against nothing, its parts.
namespace retinex::defocus {

/// The radius (signed, px) to spread the near part of an edge pixel with, so that as much light passes the
/// pixel's outer side as passes it of an edge at that place: a surface that covers `share` of the pixel lies
/// towards its own side, not in the middle, and a disc smaller than what is left open does not reach across.
///
/// Of a surface that ends at a distance a from the outer side, the mean of max(0, x - a) over the disc passes
/// it, x from the middle; of a pixel spread with a radius r' below 1, r'^2 / 8 (the kernel has the variance
/// r'^2 / 4). Never larger than `radius`; from 2 px on the radius itself.
[[nodiscard]] float rimRadius(float radius, float share);

/// The parts of a pixel where an opaque surface ends and nothing lies behind it: alpha is the share, and the
/// far part is empty. Nothing elsewhere.
[[nodiscard]] std::optional<Unmixed> againstNothing(const RgbaImage& colour, const Plane<float>& radius,
                                                    int x, int y);

} // namespace retinex::defocus
