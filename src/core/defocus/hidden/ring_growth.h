#pragma once

#include "core/defocus/surfaces/pixel_colour.h"
#include "core/defocus/surfaces/surfaces.h"
#include "core/defocus/surfaces/typical_brightness.h"

#include <algorithm>
#include <cstdint>
#include <limits>
#include <optional>

namespace retinex::defocus {

/// How much a hidden surface of radius `hidden` counts where it is continued behind a near one of radius
/// `own`, 1 to 0: the less, the more blurred it is.
[[nodiscard]] float tellsBehind(float hidden, float own);

struct MeanOfFarthest
{
    Colour colour{};
    float radius = 0.0F;
    float farthest = 0.0F; ///< largest radius of them
};

/// The mean of those surfaces behind one of radius `own` that lie about as far as the farthest. each(visit)
/// calls visit(radius, weight, colour) for all, where colour() tells it. Nothing where there is none, or
/// where the farthest does not count.
template <class Each>
[[nodiscard]] std::optional<MeanOfFarthest> meanOfFarthest(float own, Each each)
{
    constexpr float none = -1e30F;
    MeanOfFarthest mean;
    mean.farthest = none;
    each([&](float radius, float, auto) { mean.farthest = std::max(mean.farthest, radius); });
    if (mean.farthest == none || tellsBehind(mean.farthest, own) <= 0.0F) return std::nullopt;
    float count = 0.0F;
    each([&](float radius, float weight, auto colour) {
        if (isEdge(radius, mean.farthest)) return;
        const Colour its = colour();
        for (std::size_t c = 0; c < its.size(); ++c)
            mean.colour[c] += weight * its[c];
        mean.radius += weight * radius;
        count += weight;
    });
    for (float& v : mean.colour)
        v /= count;
    mean.radius /= count;
    return mean;
}

/// Where a grown layer is, and where it was before it was grown.
class Rings
{
public:
    Rings(int width, int height) : m_rings(width, height) {}

    [[nodiscard]] int width() const noexcept { return m_rings.width(); }
    [[nodiscard]] int height() const noexcept { return m_rings.height(); }
    [[nodiscard]] bool contains(int x, int y) const noexcept { return m_rings.contains(x, y); }
    [[nodiscard]] bool has(int x, int y) const noexcept { return m_rings.at(x, y) > 0; }
    /// Whether it came to the pixel only by growing.
    [[nodiscard]] bool isGrown(int x, int y) const noexcept { return m_rings.at(x, y) > 1; }

    /// How many px a pixel lies from where the layer was before it grew; 1 or less there and where it is not.
    [[nodiscard]] int ring(int x, int y) const noexcept { return m_rings.at(x, y); }

    /// What the layer is like at a pixel that it came to by growing has been told otherwise.
    void setKnown(int x, int y) { m_rings.at(x, y) = 1; }

private:
    friend class RingGrowth;
    /// The number of the ring, from 1 on; 0 or less where the layer is not.
    Plane<std::int16_t> m_rings;
};

/// Whether a pixel shows one surface, whole, and hides nothing that is known of.
[[nodiscard]] inline bool isShownWhole(const SurfaceLayer& visible, const Rings& rings, int x, int y)
{
    return !rings.has(x, y) && visible.coverage.at(x, y) >= 1.0F;
}

/// What lies before a layer: its radii, all of them or those of a hidden surface that is much blurred.
class Before
{
public:
    explicit Before(const Plane<float>& radius) : m_radius(radius) {}
    Before(const Plane<float>& radius, const Rings& where) : m_radius(radius), m_where(&where) {}

    [[nodiscard]] int width() const noexcept { return m_radius.width(); }
    [[nodiscard]] int height() const noexcept { return m_radius.height(); }
    /// kNowhere: there is nothing that anything could lie behind.
    static constexpr float kNowhere = std::numeric_limits<float>::max();
    [[nodiscard]] float at(int x, int y) const noexcept
    {
        // Only behind hidden things that lie so far in front of focus much shows.
        constexpr float blurred = -2.0F;
        if (m_where && !(m_where->has(x, y) && m_radius.at(x, y) < blurred)) return kNowhere;
        return m_radius.at(x, y);
    }

private:
    const Plane<float>& m_radius;
    const Rings* m_where = nullptr;
};

/// Continues `layer` from where it is there, ring by ring, behind what lies `before` it, where that is
/// nearer and so much more blurred: as far as the two blurs together reach. Colours are not multiplied by
/// evidence yet.
[[nodiscard]] Rings growInwards(const Before& before, SurfaceLayer& layer, const TypicalBrightness& typical,
                                const Run& run);

/// Decides how far each continued pixel counts, and multiplies colours by evidence.
void settleGrown(const Before& before, const Rings& rings, SurfaceLayer& layer, const Run& run);

} // namespace retinex::defocus
