#pragma once

#include "core/base/object_shares.h"
#include "core/defocus/pixel_colour.h"

#include <cstdint>
#include <optional>

namespace retinex::defocus {

/// The two surfaces that a pixel may be mixed of, by their signed radii, px.
struct TwoSurfaces
{
    float nearRadius = 0.0F;
    float farRadius = 0.0F;

    enum class Side { near, far, other };
    /// Which of the two a pixel of that radius shows.
    [[nodiscard]] Side sideOf(float radius) const
    {
        const bool isNear = liesNear(radius);
        if (isEdge(radius, isNear ? nearRadius : farRadius)) return Side::other;
        return isNear ? Side::near : Side::far;
    }
    /// Whether a radius, of whatever surface, is nearer to the near one's.
    [[nodiscard]] bool liesNear(float radius) const { return radius < 0.5F * (nearRadius + farRadius); }
};

/// How much of the pixel (x, y) is the near surface's, 0 to 1, by the objects that mattes show in it and on
/// the two sides around it. Nothing where they show the same objects on both. `rim` is 1 where a pixel has a
/// neighbour across an edge and so may be mixed.
[[nodiscard]] std::optional<float> shareByMattes(const ObjectShares& objects, const Plane<float>& radius,
                                                 const Plane<std::uint8_t>& rim, const TwoSurfaces& surfaces,
                                                 int x, int y);

} // namespace retinex::defocus
