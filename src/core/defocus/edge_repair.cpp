#include "core/defocus/edge_repair.h"

#include "core/defocus/hidden_texture.h"
#include "core/defocus/silhouette.h"
#include "core/defocus/typical_brightness.h"
#include "core/defocus/unmix.h"

#include <algorithm>
#include <atomic>
#include <cmath>
#include <cstdint>
#include <vector>

namespace retinex::defocus {

namespace {

/// How much a continued pixel counts against one that is seen, where both tell a surface's colour.
constexpr float kGuess = 0.1F;

constexpr float kRounding = 1e-6F;

/// The hidden surface is continued where its own blur is below this share of the near one's. Beyond, what is
/// seen of it beside the edge, spread over its wide discs, tells its colour better than any continuation
/// (measured: with a share of 1 instead, the scenes of bars lose 0.8 dB and grass 1.2 dB).
constexpr float kSharperShare = 0.25F;

/// Pixels with a neighbour across an edge; only these may mix two surfaces.
Plane<std::uint8_t> findRim(const Plane<float>& radius, const Run& run)
{
    const int width = radius.width();
    Plane<std::uint8_t> rim(width, radius.height());
    parallelFor(radius.height(), run, [&](int y) {
        const float* above = radius.row(std::max(y - 1, 0));
        const float* here = radius.row(y);
        const float* below = radius.row(std::min(y + 1, radius.height() - 1));
        std::uint8_t* out = rim.row(y);
        for (int x = 0; x < width; ++x) {
            const int left = std::max(x - 1, 0);
            const int right = std::min(x + 1, width - 1);
            float nearest = here[x];
            float farthest = here[x];
            for (const float* row : {above, here, below}) {
                nearest = std::min({nearest, row[left], row[x], row[right]});
                farthest = std::max({farthest, row[left], row[x], row[right]});
            }
            out[x] = isEdge(here[x], nearest) || isEdge(here[x], farthest) ? 1 : 0;
        }
    });
    return rim;
}

/// Takes the pixels of the rim and of silhouettes against nothing apart; returns where hidden surface is
/// known from it.
void unmixRim(const RgbaImage& colour, const Plane<float>& radius, const Plane<std::uint8_t>& rim,
              const ObjectShares* objects, const TypicalBrightness& typical, Surfaces& out, const Run& run)
{
    constexpr float least = 1.0F / 64.0F; // smaller shares are noise
    parallelFor(radius.height(), run, [&](int y) {
        for (int x = 0; x < radius.width(); ++x) {
            // Where the radii differ, colours tell more than alpha alone: lights behind have alpha too.
            const std::optional<Unmixed> found = rim.at(x, y) ? unmix(colour, radius, rim, objects, x, y)
                                                              : againstNothing(colour, radius, x, y);
            if (!found || !found->isKnown) continue;
            const Unmixed& parts = *found;
            if (parts.share < least) {
                out.visible.radiusPx.at(x, y) = parts.farRadius;
                continue;
            }
            const float share = parts.share > 1.0F - least ? 1.0F : parts.share;
            Colour nearPart = colourAt(colour, x, y);
            for (std::size_t c = 0; c < nearPart.size(); ++c)
                nearPart[c] = std::max(0.0F, nearPart[c] - (1.0F - share) * parts.far[c]);
            setColour(out.visible.colour, x, y, nearPart);
            out.visible.coverage.at(x, y) = share;
            out.visible.evidence.at(x, y) = share;
            out.visible.radiusPx.at(x, y) = rimRadius(parts.nearRadius, share);
            Colour behind = parts.far;
            if (colour.plane(3).at(x, y) == 1.0F && std::abs(behind[3] - 1.0F) < kRounding) {
                // To the last bit: opaque parts are spread with fewer numbers (SliceMap::Kind).
                behind[3] = 1.0F;
                out.visible.colour.plane(3).at(x, y) = share;
            }
            if (share > 0.9F) // hardly seen: a guess
                typical.hold(behind, parts.farRadius, x, y);
            setColour(out.hidden.colour, x, y, behind);
            out.hidden.coverage.at(x, y) = 1.0F;
            out.hidden.evidence.at(x, y) = std::max(kGuess, 1.0F - share);
            out.hidden.radiusPx.at(x, y) = parts.farRadius;
        }
    });
}

/// How blurred a hidden surface may be, at most, to be continued behind a near one of radius `own`: up to
/// `allowed` it counts in full, at twice that no more.
float allowedBlur(float own)
{
    return kSharperShare * std::abs(own) + 0.5F;
}

struct Continued
{
    PixelPlace place;
    Colour colour;
    float radius;
};

/// Continues the hidden surface at (x, y) from the neighbours that have it: the mean of those that lie about
/// as far as the farthest. False when none reaches here.
bool continueAt(const Surfaces& surfaces, const Plane<int>& ringOf, int ring, Continued& made)
{
    const int x = made.place.x;
    const int y = made.place.y;
    const float own = surfaces.visible.radiusPx.at(x, y);
    const SurfaceLayer& hidden = surfaces.hidden;
    const auto usable = [&](int nx, int ny) {
        if (ringOf.at(nx, ny) < 0) return false;
        const float behind = hidden.radiusPx.at(nx, ny);
        const float blur = std::abs(behind);
        return behind > own && isEdge(behind, own) && static_cast<float>(ring) <= std::abs(own) + blur + 1.0F;
    };
    float farthest = -1e30F;
    around(hidden.coverage, x, y, 1, [&](int nx, int ny) {
        if (usable(nx, ny)) farthest = std::max(farthest, hidden.radiusPx.at(nx, ny));
    });
    if (farthest < -1e29F || std::abs(farthest) >= 2.0F * allowedBlur(own)) return false;
    made.colour = {};
    made.radius = 0.0F;
    float count = 0.0F;
    around(hidden.coverage, x, y, 1, [&](int nx, int ny) {
        if (!usable(nx, ny) || isEdge(hidden.radiusPx.at(nx, ny), farthest)) return;
        const Colour its = colourAt(hidden.colour, nx, ny);
        const float weight = nx == x || ny == y ? 1.0F : 0.7F;
        for (std::size_t c = 0; c < its.size(); ++c)
            made.colour[c] += weight * its[c];
        made.radius += weight * hidden.radiusPx.at(nx, ny);
        count += weight;
    });
    for (float& v : made.colour)
        v /= count;
    made.radius /= count;
    return true;
}

/// Decides how far each continued pixel counts, and multiplies colour by evidence.
void settleHidden(Surfaces& surfaces, const Plane<int>& ringOf, const Run& run)
{
    SurfaceLayer& hidden = surfaces.hidden;
    parallelFor(ringOf.height(), run, [&](int y) {
        for (int x = 0; x < ringOf.width(); ++x) {
            if (ringOf.at(x, y) < 0) continue;
            float& evidence = hidden.evidence.at(x, y);
            if (ringOf.at(x, y) > 0) {
                const float blur =
                    std::abs(hidden.radiusPx.at(x, y)) / allowedBlur(surfaces.visible.radiusPx.at(x, y));
                hidden.coverage.at(x, y) = std::clamp(2.0F - blur, 0.0F, 1.0F); // no sudden end
                evidence = kGuess * hidden.coverage.at(x, y);
            }
            for (int c = 0; c < RgbaImage::channels; ++c)
                hidden.colour.plane(c).at(x, y) *= evidence;
        }
    });
}

/// Grows the hidden layer inwards from the rim, ring by ring. A ring looks at earlier rings only, and what it
/// found is written when all of it is known: the result does not depend on the order of work.
class RingGrowth
{
public:
    RingGrowth(Surfaces& surfaces, const TypicalBrightness& typical, const Run& run)
        : m_surfaces(surfaces), m_typical(typical), m_run(run),
          m_ringOf(surfaces.hidden.coverage.width(), surfaces.hidden.coverage.height(), -1),
          m_seen(m_ringOf.width(), m_ringOf.height(), -1)
    {
    }

    /// Returns the ring of each pixel: 0 at the rim, -1 where the layer does not reach.
    Plane<int> grow()
    {
        std::vector<PixelPlace> front = firstRing();
        for (int ring = 1; !front.empty(); ++ring) {
            m_run.throwIfStopped();
            front = grow(front, ring);
        }
        return std::move(m_ringOf);
    }

private:
    static constexpr std::size_t kChunk = 512; ///< places; small rings are not worth a thread

    std::vector<PixelPlace> firstRing()
    {
        std::vector<std::vector<PixelPlace>> rows(static_cast<std::size_t>(m_ringOf.height()));
        parallelFor(m_ringOf.height(), m_run, [&](int y) {
            const float* coverage = m_surfaces.hidden.coverage.row(y);
            int* ring = m_ringOf.row(y);
            for (int x = 0; x < m_ringOf.width(); ++x) {
                if (coverage[x] <= 0.0F) continue;
                ring[x] = 0;
                rows[static_cast<std::size_t>(y)].push_back({x, y});
            }
        });
        std::vector<PixelPlace> front;
        for (const auto& row : rows)
            front.insert(front.end(), row.begin(), row.end());
        return front;
    }

    std::vector<PixelPlace> grow(const std::vector<PixelPlace>& front, int ring)
    {
        std::vector<std::vector<Continued>> found((front.size() + kChunk - 1) / kChunk);
        const Run run{found.size() > 1 ? m_run.threads : 1, {}, m_run.stop};
        parallelFor(static_cast<int>(found.size()), run, [&](int chunk) {
            const std::size_t first = static_cast<std::size_t>(chunk) * kChunk;
            const std::size_t end = std::min(first + kChunk, front.size());
            for (std::size_t i = first; i < end; ++i)
                lookAround(front[i], ring, found[static_cast<std::size_t>(chunk)]);
        });
        std::vector<std::size_t> starts;
        std::size_t count = 0;
        for (const auto& chunk : found) {
            starts.push_back(count);
            count += chunk.size();
        }
        std::vector<PixelPlace> next(count);
        parallelFor(static_cast<int>(found.size()), run, [&](int index) {
            std::size_t to = starts[static_cast<std::size_t>(index)];
            for (const Continued& made : found[static_cast<std::size_t>(index)]) {
                const auto [x, y] = made.place;
                m_ringOf.at(x, y) = ring;
                setColour(m_surfaces.hidden.colour, x, y, made.colour);
                m_surfaces.hidden.radiusPx.at(x, y) = made.radius;
                next[to++] = made.place;
            }
        });
        return next;
    }

    void lookAround(const PixelPlace& place, int ring, std::vector<Continued>& found)
    {
        around(m_ringOf, place.x, place.y, 1, [&](int x, int y) {
            if (m_ringOf.at(x, y) >= 0) return;
            // Whoever comes first takes it; who that is does not matter.
            if (std::atomic_ref<int>(m_seen.at(x, y)).exchange(ring, std::memory_order_relaxed) == ring)
                return;
            Continued made{{x, y}, {}, 0.0F};
            if (!continueAt(m_surfaces, m_ringOf, ring, made)) return;
            m_typical.hold(made.colour, made.radius, x, y);
            found.push_back(made);
        });
    }

    Surfaces& m_surfaces;
    const TypicalBrightness& m_typical;
    const Run& m_run;
    Plane<int> m_ringOf;
    Plane<int> m_seen; ///< last ring in which a pixel was looked at
};

} // namespace

Surfaces repairEdges(const RgbaImage& colour, const Plane<float>& radiusPx, const ObjectShares* objects,
                     const Run& run, HiddenFill fill)
{
    const Run quiet{run.threads, {}, run.stop};
    const int width = colour.width();
    const int height = colour.height();
    Surfaces surfaces;
    surfaces.hidden = SurfaceLayer(width, height);
    surfaces.visible = SurfaceLayer(width, height);
    SurfaceLayer& visible = surfaces.visible;
    parallelFor(height, quiet, [&](int y) {
        for (int c = 0; c < RgbaImage::channels; ++c)
            std::copy_n(colour.plane(c).row(y), width, visible.colour.plane(c).row(y));
        std::copy_n(radiusPx.row(y), width, visible.radiusPx.row(y));
        std::fill_n(visible.coverage.row(y), width, 1.0F);
        std::fill_n(visible.evidence.row(y), width, 1.0F);
    });
    const auto rim = findRim(radiusPx, quiet);
    const TypicalBrightness typical(colour, radiusPx, quiet);
    unmixRim(colour, radiusPx, rim, objects, typical, surfaces, quiet);
    continueHidden(surfaces, typical, quiet, fill);
    return surfaces;
}

void continueHidden(Surfaces& surfaces, const TypicalBrightness& typical, const Run& run, HiddenFill fill)
{
    const Run quiet{run.threads, {}, run.stop};
    const Plane<int> ringOf = RingGrowth(surfaces, typical, quiet).grow();
    if (fill == HiddenFill::withTexture) drawHiddenTexture(surfaces, ringOf, typical, quiet);
    settleHidden(surfaces, ringOf, quiet);
}

} // namespace retinex::defocus
