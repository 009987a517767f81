#pragma once

#include "core/defocus/repair/two_surfaces.h"
#include "core/image/object_shares.h"

#include <cstdint>
#include <optional>

namespace retinex::defocus {

/// How much of the pixel (x, y) is the near surface's, 0 to 1, by the objects that mattes show in it and on
/// the two sides around it. Nothing where they show the same objects on both. `rim` is 1 where a pixel has a
/// neighbour across an edge and so may be mixed.
[[nodiscard]] std::optional<float> shareByMattes(const ObjectShares& objects, const Plane<float>& radius,
                                                 const Plane<std::uint8_t>& rim, const TwoSurfaces& surfaces,
                                                 int x, int y);

} // namespace retinex::defocus
