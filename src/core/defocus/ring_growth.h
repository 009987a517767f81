#pragma once

#include "core/defocus/edge_repair.h"
#include "core/defocus/pixel_colour.h"

#include <algorithm>
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

/// Continues `layer` from where it is there, ring by ring, behind what has the radii `before`, where that is
/// nearer and so much more blurred: as far as the two blurs together reach. Colours are not multiplied by
/// evidence yet. Returns the ring of each pixel: 0 where the layer was, -1 where it does not reach.
[[nodiscard]] Plane<int> growInwards(const Plane<float>& before, SurfaceLayer& layer,
                                     const TypicalBrightness& typical, const Run& run);

/// Decides how far each continued pixel counts, and multiplies colours by evidence.
void settleGrown(const Plane<float>& before, const Plane<int>& ringOf, SurfaceLayer& layer, const Run& run);

} // namespace retinex::defocus
