#include "core/defocus/repair/edge_repair.h"

#include "core/defocus/hidden/behind_nearer.h"
#include "core/defocus/hidden/calm.h"
#include "core/defocus/hidden/ends_around.h"
#include "core/defocus/hidden/fade.h"
#include "core/defocus/hidden/hidden_texture.h"
#include "core/defocus/hidden/ring_growth.h"
#include "core/defocus/repair/silhouette.h"
#include "core/defocus/repair/unmix.h"
#include "core/defocus/surfaces/typical_brightness.h"
#include "core/image/touch_memory.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <utility>

namespace retinex::defocus {

namespace {

constexpr float kRounding = 1e-6F;

/// Pixels with a neighbour across an edge; only these may mix two surfaces.
Plane<std::uint8_t> findRim(const Plane<float>& radius, const Run& run)
{
    const int width = radius.width();
    Plane<std::uint8_t> rim(width, radius.height());
    parallelFor(radius.height(), run, [&](int y) {
        EndsAround ends(radius);
        ends.look(y);
        const float* here = radius.row(y);
        const float* nearest = ends.nearest();
        const float* farthest = ends.farthest();
        std::uint8_t* out = rim.row(y);
        for (int x = 0; x < width; ++x) {
            const auto toNearer = static_cast<unsigned>(isEdge(here[x], nearest[x]));
            out[x] =
                static_cast<std::uint8_t>(toNearer | static_cast<unsigned>(isEdge(here[x], farthest[x])));
        }
    });
    return rim;
}

/// A large page may end within the row, in all planes at the same pixel.
void claimRow(SurfaceLayer& layer, int y, const Run& run)
{
    for (const int x : {0, layer.coverage.width() - 1})
        touchMemory(layer.colour, {&layer.coverage, &layer.evidence, &layer.radiusPx}, x, y, run.stop);
}

/// How much the near part of a pixel tells of its surface: less than its share where the surface is better
/// told by pixels that it fills. In front of the focal plane evidence tells guesses from what is seen.
float nearEvidence(const Unmixed& parts, float share)
{
    constexpr float power = 1.3F;
    return parts.isNearPlain && parts.nearRadius >= 0.0F ? std::pow(share, power) : share;
}

/// Likewise of the far part: the colour of a small part is the pixel's, less a large one, and strays the
/// more. Where hardly a pixel around shows the surface unmixed, nothing makes up for that.
float farEvidence(const Unmixed& parts, float share)
{
    constexpr float least = 0.02F;
    const float left = 1.0F - share;
    return std::max(least, parts.isFarThin && parts.farRadius >= 0.0F ? left * left : left);
}

/// Whether the near part's slice and the far one's are neighbours: there guesses would count for more than
/// what nearer slices leave open (addWithinBudget), so that the far part fills its own share alone.
bool liesJustBefore(const Unmixed& parts)
{
    constexpr float atMost = 0.15F; // of the radius: a step of the slices, and somewhat more
    return parts.farRadius < 0.0F && !radiiDiffer(parts.nearRadius, parts.farRadius, 0.0F, atMost);
}

/// The least share of the near part by which the two cover as much of a pixel as its alpha says: no part
/// covers more than its share.
float coveredByNear(float alpha, const Unmixed& parts)
{
    const float open = 1.0F - parts.far[3];
    return open > kRounding ? std::min(1.0F, (alpha - parts.far[3]) / open) : 0.0F;
}

/// Takes the pixels of the rim and of silhouettes against nothing apart.
void unmixRim(const Plane<float>& radius, const Plane<std::uint8_t>& rim, const ObjectShares* objects,
              const TypicalBrightness& typical, Surfaces& out, const Run& run)
{
    constexpr float least = 1.0F / 64.0F; // smaller shares are noise
    RgbaImage& colour = out.visible.colour;
    struct NearPart
    {
        int x;
        Colour colour;
    };
    std::vector<std::vector<NearPart>> nearParts(static_cast<std::size_t>(radius.height()));
    parallelFor(radius.height(), run, [&](int y) {
        bool isClaimed = false;
        for (int x = 0; x < radius.width(); ++x) {
            const bool isRim = rim.at(x, y) != 0;
            if (isRim) run.throwIfStopped(); // a row may be full of it
            // Where the radii differ, colours tell more than alpha alone: lights behind have alpha too.
            const std::optional<Unmixed> found =
                isRim ? unmix(colour, radius, rim, objects, x, y) : againstNothing(colour, radius, x, y);
            if (!found || !found->isKnown) continue;
            if (!std::exchange(isClaimed, true)) claimRow(out.hidden, y, run);
            const Unmixed& parts = *found;
            if (parts.share < least) {
                out.visible.radiusPx.at(x, y) = parts.farRadius;
                continue;
            }
            const float covered = std::max(parts.share, coveredByNear(colour.plane(3).at(x, y), parts));
            const float share = covered > 1.0F - least ? 1.0F : covered;
            Colour nearPart = colourAt(colour, x, y);
            for (std::size_t c = 0; c < nearPart.size(); ++c)
                nearPart[c] = std::max(0.0F, nearPart[c] - (1.0F - share) * parts.far[c]);
            nearPart[3] = std::min(nearPart[3], share);
            const float evidence = nearEvidence(parts, share);
            for (float& v : nearPart)
                v *= evidence / share;
            out.visible.coverage.at(x, y) = share;
            out.visible.evidence.at(x, y) = evidence;
            out.visible.radiusPx.at(x, y) = rimRadius(parts.nearRadius, share);
            Colour behind = parts.far;
            if (colour.plane(3).at(x, y) == 1.0F && std::abs(behind[3] - 1.0F) < kRounding) {
                // To the last bit: opaque parts are spread with fewer numbers (SliceMap::Kind).
                behind[3] = 1.0F;
                nearPart[3] = evidence;
            }
            nearParts[static_cast<std::size_t>(y)].push_back({x, nearPart});
            if (share > 0.9F) // hardly seen: a guess
                typical.hold(behind, parts.farRadius, x, y);
            setColour(out.hidden.colour, x, y, behind);
            out.hidden.coverage.at(x, y) = liesJustBefore(parts) ? 1.0F - share : 1.0F;
            out.hidden.evidence.at(x, y) = farEvidence(parts, share);
            out.hidden.radiusPx.at(x, y) = parts.farRadius;
        }
    });
    // Not before the pixels around have been looked at too.
    parallelFor(radius.height(), run, [&](int y) {
        for (const NearPart& part : nearParts[static_cast<std::size_t>(y)])
            setColour(colour, part.x, y, part.colour);
    });
}

} // namespace

Surfaces repairEdges(const RgbaImage& colour, const Plane<float>& radiusPx, const ObjectShares* objects,
                     const Run& run, HiddenFill fill, float gain, const KnownBehind& known)
{
    const Run quiet{run.threads, {}, run.stop};
    const int width = colour.width();
    const int height = colour.height();
    Surfaces surfaces;
    surfaces.hidden = SurfaceLayer(width, height);
    surfaces.visible = SurfaceLayer(width, height);
    SurfaceLayer& visible = surfaces.visible;
    parallelFor(height, quiet, [&](int y) {
        claimRow(visible, y, quiet);
        for (int c = 0; c < 3; ++c)
            std::transform(colour.plane(c).row(y), colour.plane(c).row(y) + width,
                           visible.colour.plane(c).row(y), [gain](float v) { return gain * v; });
        std::copy_n(colour.plane(3).row(y), width, visible.colour.plane(3).row(y));
        std::copy_n(radiusPx.row(y), width, visible.radiusPx.row(y));
        std::fill_n(visible.coverage.row(y), width, 1.0F);
        std::fill_n(visible.evidence.row(y), width, 1.0F);
    });
    const auto rim = findRim(radiusPx, quiet);
    const TypicalBrightness typical(visible.colour, radiusPx, quiet);
    unmixRim(radiusPx, rim, objects, typical, surfaces, quiet);
    continueHidden(surfaces, typical, quiet, fill, known, gain);
    return surfaces;
}

namespace {

/// Puts what was seen in the place of what was guessed, and of what small parts of pixels tell.
void takeKnown(Surfaces& surfaces, Rings& rings, const KnownBehind& known, float gain, const Run& run)
{
    constexpr float counts = 0.5F; // least weight
    SurfaceLayer& hidden = surfaces.hidden;
    parallelFor(rings.height(), run, [&](int y) {
        for (int x = 0; x < rings.width(); ++x) {
            if (!rings.has(x, y) || known.seen->weight.at(x, y) < counts) continue;
            if (!rings.isGrown(x, y) && surfaces.visible.coverage.at(x, y) < kHardlySeen) continue;
            const float radius = known.radiusPx->at(x, y);
            if (!liesBehind(radius, surfaces.visible.radiusPx.at(x, y))) continue;
            Colour colour = colourAt(known.seen->colour, x, y);
            for (std::size_t c = 0; c < 3; ++c)
                colour[c] *= gain;
            setColour(hidden.colour, x, y, colour);
            hidden.radiusPx.at(x, y) = radius;
            hidden.coverage.at(x, y) = 1.0F;
            hidden.evidence.at(x, y) = kSeenEvidence;
            rings.setKnown(x, y);
        }
    });
}

} // namespace

void continueHidden(Surfaces& surfaces, const TypicalBrightness& typical, const Run& run, HiddenFill fill,
                    const KnownBehind& known, float gain)
{
    const Run quiet{run.threads, {}, run.stop};
    SurfaceLayer& hidden = surfaces.hidden;
    const Before before(surfaces.visible.radiusPx);
    Rings rings = growInwards(before, hidden, typical, quiet);
    if (known.seen) takeKnown(surfaces, rings, known, gain, quiet);
    if (fill == HiddenFill::withTexture) {
        const Plane<float> sure = drawHiddenTexture(surfaces, rings, typical, quiet);
        calmGuesses(surfaces, rings, typical, quiet);
        fadeGuesses(surfaces, rings, sure, quiet);
        continueBehindNearer(surfaces, rings, typical, quiet);
    }
    settleGrown(before, rings, hidden, quiet);
}

} // namespace retinex::defocus
