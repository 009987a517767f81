#pragma once

#include "core/defocus/hidden/ring_growth.h"
#include "core/defocus/surfaces/pixel_colour.h"
#include "core/defocus/surfaces/surfaces.h"
#include "core/system/run.h"

#include <cmath>
#include <vector>

namespace retinex::defocus {

/// Where the outline between two surfaces, or an edge between two colours of one, goes behind a nearer one:
/// it is taken to go straight on there (the law of good continuation: Wertheimer, "Untersuchungen zur Lehre
/// von der Gestalt II", Psychologische Forschung 4, 1923).
struct OutlineEnd
{
    struct Side
    {
        float radius = 0.0F; ///< px
        Colour colour{};     ///< of its pixels beside the outline, near the end
        float wide = 0.0F;   ///< px from the outline to where something else shows
    };
    float x = 0.0F; ///< of the end, px
    float y = 0.0F;
    float alongX = 0.0F; ///< where it goes on, length 1
    float alongY = 0.0F;
    Side left;               ///< where (-alongY, alongX) points
    Side right;              ///< on the other side
    bool isOfColour = false; ///< it parts two colours of one surface
    float reach = 0.0F;      ///< px that it is taken to go on
};

inline constexpr int kWidestSide = 12; ///< px to each side of an outline that it tells of

/// Calls visit(pixel, px from the end, its side, the other side) for the pixels beside where an outline goes
/// on, as long as isHidden(pixel) holds on it.
template <class IsHidden, class Visit>
void alongOutline(const OutlineEnd& end, IsHidden isHidden, Visit visit)
{
    const bool isAlongX = std::abs(end.alongX) >= std::abs(end.alongY);
    const float major = isAlongX ? end.alongX : end.alongY;
    const float minor = isAlongX ? end.alongY : end.alongX;
    const auto pixel = [&](int along, int across) {
        return isAlongX ? PixelPlace{along, across} : PixelPlace{across, along};
    };
    const float from = isAlongX ? end.x : end.y;
    const int first = static_cast<int>(std::lround(from));
    for (int i = 1;; ++i) {
        const int along = major > 0.0F ? first + i : first - i;
        const float length = (static_cast<float>(along) - from) / major;
        if (length > end.reach) return;
        const int middle = static_cast<int>(std::lround((isAlongX ? end.y : end.x) + length * minor));
        if (!isHidden(pixel(along, middle))) return;
        for (int across = middle - kWidestSide; across <= middle + kWidestSide; ++across) {
            const PixelPlace at = pixel(along, across);
            const float left = end.alongX * (static_cast<float>(at.y) - end.y) -
                               end.alongY * (static_cast<float>(at.x) - end.x);
            const OutlineEnd::Side& side = left > 0.0F ? end.left : end.right;
            if (std::abs(left) > side.wide) continue;
            visit(at, std::hypot(length, left), side, left > 0.0F ? end.right : end.left);
        }
    }
}

/// The ends of all outlines that are straight enough before they go behind something; row after row.
[[nodiscard]] std::vector<OutlineEnd> findOutlineEnds(const Surfaces& surfaces, const Rings& rings,
                                                      const Run& run);

} // namespace retinex::defocus
