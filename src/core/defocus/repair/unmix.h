#pragma once

#include "core/defocus/surfaces/pixel_colour.h"
#include "core/image/object_shares.h"

#include <cstdint>

namespace retinex::defocus {

/// A pixel of the rim taken apart into a near and a far surface.
struct Unmixed
{
    Colour far{};
    float share = 1.0F;       ///< of the near side
    bool isKnown = true;      ///< false: the surroundings do not tell; leave the pixel as it is
    bool isNearPlain = false; ///< enough of the near side shows unmixed near by
    bool isFarThin = false;   ///< hardly anything of the far side does
    float nearRadius = 0.0F;
    float farRadius = 0.0F;
};

/// Takes the pixel (x, y) apart from what the 5 x 5 pixels around it show. `rim` is 1 where a pixel has a
/// neighbour across an edge and so may be mixed; (x, y) must be one of these. `objects`, of mattes, may be
/// null.
[[nodiscard]] Unmixed unmix(const RgbaImage& colour, const Plane<float>& radius,
                            const Plane<std::uint8_t>& rim, const ObjectShares* objects, int x, int y);

} // namespace retinex::defocus
