#pragma once

#include "core/base/object_shares.h"
#include "core/defocus/pixel_colour.h"

#include <array>
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
        const bool isNear = radius < 0.5F * (nearRadius + farRadius);
        if (isEdge(radius, isNear ? nearRadius : farRadius)) return Side::other;
        return isNear ? Side::near : Side::far;
    }
};

/// What mattes tell of a mixed pixel and those around it: how much of each is the near surface's, and from
/// that the colours of the two.
class MatteSplit
{
public:
    /// Of the pixel (x, y). Nothing where the mattes show the same objects on both sides. `rim` is 1 where a
    /// pixel has a neighbour across an edge and so may be mixed.
    [[nodiscard]] static std::optional<MatteSplit> at(const ObjectShares& objects, const Plane<float>& radius,
                                                      const Plane<std::uint8_t>& rim,
                                                      const TwoSurfaces& surfaces, int x, int y);

    /// Of the near surface, 0 to 1.
    [[nodiscard]] float shareAt(int x, int y) const;

private:
    static constexpr std::size_t kMost = 8; ///< objects that count around a pixel

    explicit MatteSplit(const ObjectShares& objects) : m_objects(&objects) {}

    const ObjectShares* m_objects;
    std::array<std::uint32_t, kMost> m_object{};
    std::array<float, kMost> m_across{}; ///< coverage on the near side less that on the far side
    std::size_t m_count = 0;
    float m_offset = 0.0F; ///< far coverage along `across`
    float m_scale = 1.0F;
};

} // namespace retinex::defocus
