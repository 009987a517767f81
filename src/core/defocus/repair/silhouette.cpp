#include "core/defocus/repair/silhouette.h"

#include <limits>
#include <numbers>

namespace retinex::defocus {

float rimRadius(float radius, float share)
{
    constexpr float whole = 1.0F;  // up to this radius, px
    constexpr float none = 2.0F;   // from this one on nothing of it shows
    constexpr float sharp = 1e-3F; // not 0: the pixel stays on its side of the focal plane
    const float r = std::abs(radius);
    if (r >= none || r < sharp || share >= 1.0F) return radius;
    const float t = std::min(1.0F, (1.0F - share) / r);
    const float chord = std::sqrt(1.0F - t * t);
    const float passing = r * 2.0F / std::numbers::pi_v<float> *
                          (chord * chord * chord / 3.0F - 0.5F * t * (std::acos(t) - t * chord));
    const float wanted = std::min(r, std::sqrt(std::max(0.0F, 8.0F * passing / share)));
    const float made = r <= whole ? wanted : wanted + (r - wanted) * (r - whole) / (none - whole);
    return std::copysign(std::max(made, sharp), radius);
}

std::optional<Unmixed> againstNothing(const RgbaImage& colour, const Plane<float>& radius, int x, int y)
{
    const Plane<float>& alpha = colour.plane(3);
    const float share = alpha.at(x, y);
    if (!(share > 0.0F && share < 1.0F)) return std::nullopt;
    constexpr float nowhere = std::numeric_limits<float>::max();
    float nearest = nowhere;   // of the opaque neighbours
    float farthest = -nowhere; // of the empty ones
    around(radius, x, y, 1, [&](int nx, int ny) {
        if (alpha.at(nx, ny) == 0.0F) farthest = std::max(farthest, radius.at(nx, ny));
        if (alpha.at(nx, ny) >= 1.0F) nearest = std::min(nearest, radius.at(nx, ny));
    });
    if (nearest == nowhere || nearest >= farthest) return std::nullopt; // farthest < nearest: none is empty
    Unmixed parts;
    parts.share = share;
    parts.nearRadius = nearest;
    parts.farRadius = farthest;
    return parts;
}

} // namespace retinex::defocus
