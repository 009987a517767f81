#pragma once

#include "core/defocus/surfaces/pixel_colour.h"

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

} // namespace retinex::defocus
