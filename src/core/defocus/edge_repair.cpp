#include "core/defocus/edge_repair.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <vector>

namespace retinex::defocus {

namespace {


using Colour = std::array<float, RgbaImage::channels>;

/// Radii of neighbours on one surface differ by less, in px, or in share of the radius.
constexpr float kEdgePx = 0.5F;
constexpr float kEdgeShare = 0.08F;

/// How much a continued pixel counts against one that is seen, where both tell a surface's colour.
constexpr float kGuess = 0.1F;

/// The hidden surface is continued where its own blur is below this share of the near one's. Beyond, what is
/// seen of it beside the edge, spread over its wide discs, tells its colour better than any continuation
/// (measured: with a share of 1 instead, the scenes of bars lose 0.8 dB and grass 1.2 dB).
constexpr float kSharperShare = 0.25F;

/// A pixel so many times as bright as what it would be mixed of shows a light of its own.
constexpr float kGlint = 2.0F;

bool isEdge(float a, float b)
{
    return std::abs(a - b) > std::max(kEdgePx, kEdgeShare * std::min(std::abs(a), std::abs(b)));
}

Colour colourAt(const RgbaImage& image, int x, int y)
{
    Colour colour{};
    for (int c = 0; c < RgbaImage::channels; ++c)
        colour[static_cast<std::size_t>(c)] = image.plane(c).at(x, y);
    return colour;
}

void setColour(RgbaImage& image, int x, int y, const Colour& colour)
{
    for (int c = 0; c < RgbaImage::channels; ++c)
        image.plane(c).at(x, y) = colour[static_cast<std::size_t>(c)];
}

float distanceSquared(const Colour& a, const Colour& b)
{
    float sum = 0.0F;
    for (std::size_t c = 0; c < a.size(); ++c)
        sum += (a[c] - b[c]) * (a[c] - b[c]);
    return sum;
}

float brightnessOf(const Colour& colour) { return std::max({colour[0], colour[1], colour[2], 0.0F}); }

/// Bright points are small: what is guessed from a neighbourhood leans to its dark part.
float darkWeight(const Colour& colour)
{
    const float brightness = 0.05F + brightnessOf(colour);
    return 1.0F / (brightness * brightness);
}

/// How bright the far surfaces around a pixel are as a rule: the geometric mean over about 48 px. A guess is
/// held to four times that, so that a lamp cut by an edge is not made whole again, or larger than it was,
/// behind it.
class TypicalBrightness
{
public:
    TypicalBrightness(const RgbaImage& colour, const Plane<float>& radius, const Run& run)
        : m_log((colour.width() + kBlock - 1) / kBlock, (colour.height() + kBlock - 1) / kBlock),
          m_radius(m_log.width(), m_log.height())
    {
        parallelFor(m_log.height(), run, [&](int by) {
            for (int bx = 0; bx < m_log.width(); ++bx)
                measure(colour, radius, bx, by);
        });
    }

    /// `radius` is that of the guess: only blocks whose far half lies about as far count.
    void hold(Colour& guess, float radius, int x, int y) const;

private:
    static constexpr int kBlock = 16;
    static constexpr float kFloor = 0.02F;
    static constexpr float kMost = 4.0F;

    void measure(const RgbaImage& colour, const Plane<float>& radius, int bx, int by);

    Plane<float> m_log;    ///< mean log2 brightness of the far half of a block
    Plane<float> m_radius; ///< its mean radius
};

/// Calls visit(x, y) for the pixels of the picture within `reach` of (x, y), itself included.
template <class Visit>
void around(const Plane<float>& plane, int x, int y, int reach, Visit visit)
{
    for (int ny = std::max(0, y - reach); ny <= std::min(plane.height() - 1, y + reach); ++ny)
        for (int nx = std::max(0, x - reach); nx <= std::min(plane.width() - 1, x + reach); ++nx)
            visit(nx, ny);
}

void TypicalBrightness::measure(const RgbaImage& colour, const Plane<float>& radius, int bx, int by)
{
    const auto everyOther = [&](auto visit) { // a quarter of the pixels is enough
        for (int y = by * kBlock; y < std::min((by + 1) * kBlock, colour.height()); y += 2)
            for (int x = bx * kBlock; x < std::min((bx + 1) * kBlock, colour.width()); x += 2)
                visit(x, y);
    };
    float sum = 0.0F;
    int count = 0;
    everyOther([&](int x, int y) {
        sum += radius.at(x, y);
        ++count;
    });
    const float middle = sum / static_cast<float>(count) - 1e-3F;
    float logSum = 0.0F;
    float radiusSum = 0.0F;
    int far = 0;
    everyOther([&](int x, int y) {
        if (radius.at(x, y) < middle)
            return;
        logSum += std::log2(brightnessOf(colourAt(colour, x, y)) + kFloor);
        radiusSum += radius.at(x, y);
        ++far;
    });
    m_log.at(bx, by) = logSum / static_cast<float>(std::max(far, 1));
    m_radius.at(bx, by) = radiusSum / static_cast<float>(std::max(far, 1));
}

void TypicalBrightness::hold(Colour& guess, float radius, int x, int y) const
{
    float sum = 0.0F;
    int count = 0;
    around(m_log, x / kBlock, y / kBlock, 1, [&](int bx, int by) {
        if (m_radius.at(bx, by) < radius - std::max(1.0F, 0.25F * std::abs(radius)))
            return;
        sum += m_log.at(bx, by);
        ++count;
    });
    if (count == 0)
        return;
    const float most = kMost * std::exp2(sum / static_cast<float>(count));
    const float brightness = brightnessOf(guess);
    if (brightness > most)
        for (std::size_t c = 0; c < 3; ++c)
            guess[c] *= most / brightness;
}

/// Pixels with a neighbour across an edge; only these may mix two surfaces.
Plane<std::uint8_t> findRim(const Plane<float>& radius, const Run& run)
{
    Plane<std::uint8_t> rim(radius.width(), radius.height());
    parallelFor(radius.height(), run, [&](int y) {
        for (int x = 0; x < radius.width(); ++x) {
            float nearest = radius.at(x, y);
            float farthest = nearest;
            around(radius, x, y, 1, [&](int nx, int ny) {
                nearest = std::min(nearest, radius.at(nx, ny));
                farthest = std::max(farthest, radius.at(nx, ny));
            });
            const float here = radius.at(x, y);
            rim.at(x, y) = isEdge(here, nearest) || isEdge(here, farthest) ? 1 : 0;
        }
    });
    return rim;
}

/// One side of an edge as its pixels near by show it.
class Side
{
public:
    void addClean(const Colour& colour)
    {
        const float darkness = darkWeight(colour);
        for (std::size_t c = 0; c < colour.size(); ++c) {
            m_sum[c] += colour[c];
            m_darkSum[c] += darkness * colour[c];
        }
        m_darkWeight += darkness;
        ++m_clean;
    }
    void addRim(const Colour& colour) { m_rim.push_back(colour); }
    void addRadius(float radius)
    {
        m_radiusSum += radius;
        ++m_radiusCount;
    }
    [[nodiscard]] bool hasClean() const { return m_clean > 0; }
    [[nodiscard]] bool hasRim() const { return !m_rim.empty(); }
    [[nodiscard]] Colour cleanMean() const
    {
        Colour mean = m_sum;
        for (float& v : mean)
            v /= static_cast<float>(m_clean);
        return mean;
    }
    /// The mean with bright points counting little.
    [[nodiscard]] Colour darkMean() const
    {
        Colour mean = m_darkSum;
        for (float& v : mean)
            v /= m_darkWeight;
        return mean;
    }
    /// Of a side so thin that all of its pixels are mixed: the one least like the other side.
    [[nodiscard]] Colour least(const Colour& like) const
    {
        return *std::max_element(m_rim.begin(), m_rim.end(), [&](const Colour& a, const Colour& b) {
            return distanceSquared(a, like) < distanceSquared(b, like);
        });
    }
    [[nodiscard]] Colour rimMean() const
    {
        Colour mean{};
        for (const Colour& colour : m_rim)
            for (std::size_t c = 0; c < colour.size(); ++c)
                mean[c] += colour[c] / static_cast<float>(m_rim.size());
        return mean;
    }
    [[nodiscard]] float radius() const { return m_radiusSum / static_cast<float>(m_radiusCount); }

private:
    Colour m_sum{};
    Colour m_darkSum{};
    float m_darkWeight = 0.0F;
    int m_clean = 0;
    std::vector<Colour> m_rim;
    float m_radiusSum = 0.0F;
    int m_radiusCount = 0;
};

/// How a pixel is made of two colours.
struct Mix
{
    float share = 1.0F; ///< of the near one
    float rest = 0.0F;  ///< squared distance from the pixel to the mixture
};

Mix mixOf(const Colour& here, const Colour& nearColour, const Colour& farColour, bool isNear)
{
    const float contrast = distanceSquared(nearColour, farColour);
    const float size = distanceSquared(nearColour, {}) + distanceSquared(farColour, {});
    Mix mix;
    if (contrast < 1e-3F * size + 1e-12F) { // alike: nothing to see, the depth decides
        mix.share = isNear ? 1.0F : 0.0F;
    } else {
        float along = 0.0F;
        for (std::size_t c = 0; c < here.size(); ++c)
            along += (here[c] - farColour[c]) * (nearColour[c] - farColour[c]);
        mix.share = std::clamp(along / contrast, 0.0F, 1.0F);
    }
    Colour mixture{};
    for (std::size_t c = 0; c < here.size(); ++c)
        mixture[c] = mix.share * nearColour[c] + (1.0F - mix.share) * farColour[c];
    mix.rest = distanceSquared(here, mixture);
    return mix;
}

struct Unmixed
{
    Colour far{};
    float share = 1.0F; ///< of the near side
    float nearRadius = 0.0F;
    float farRadius = 0.0F;
};

Unmixed unmix(const RgbaImage& colour, const Plane<float>& radius, const Plane<std::uint8_t>& rim, int x, int y)
{
    float nearest = radius.at(x, y);
    float farthest = nearest;
    around(radius, x, y, 1, [&](int nx, int ny) {
        nearest = std::min(nearest, radius.at(nx, ny));
        farthest = std::max(farthest, radius.at(nx, ny));
    });
    const float middle = 0.5F * (nearest + farthest);
    Side nearSide;
    Side farSide;
    around(radius, x, y, 2, [&](int nx, int ny) {
        const float r = radius.at(nx, ny);
        Side& side = r < middle ? nearSide : farSide;
        if (rim.at(nx, ny))
            side.addRim(colourAt(colour, nx, ny));
        else
            side.addClean(colourAt(colour, nx, ny));
        if (std::abs(nx - x) <= 1 && std::abs(ny - y) <= 1)
            side.addRadius(r);
    });
    Unmixed result;
    result.nearRadius = nearSide.radius();
    result.farRadius = farSide.radius();
    const bool isNear = radius.at(x, y) < middle;
    (isNear ? result.nearRadius : result.farRadius) = radius.at(x, y);
    const Colour here = colourAt(colour, x, y);
    const Colour nearMean = nearSide.hasClean() ? nearSide.cleanMean() : nearSide.rimMean();
    const auto mixWith = [&](const Colour& farColour) {
        return mixOf(here, nearSide.hasClean() ? nearMean : nearSide.least(farColour), farColour, isNear);
    };
    // What may lie behind, the least daring first: a lamp two pixels on is no part of this pixel, unless its
    // light is in it.
    std::vector<Colour> candidates;
    if (farSide.hasClean())
        candidates = {farSide.darkMean(), farSide.cleanMean()};
    if (farSide.hasRim()) {
        const Colour daring = farSide.least(nearMean);
        if (candidates.empty() || brightnessOf(daring) > kGlint * (brightnessOf(candidates.back()) + brightnessOf(nearMean)))
            candidates.push_back(daring);
    }
    std::vector<Mix> mixes;
    for (const Colour& candidate : candidates)
        mixes.push_back(mixWith(candidate));
    const auto lessRest = [](const Mix& a, const Mix& b) { return a.rest < b.rest; };
    const float size = distanceSquared(here, {});
    const float best = std::min_element(mixes.begin(), mixes.end(), lessRest)->rest;
    const auto chosen = std::find_if(mixes.begin(), mixes.end(),
                                     [&](const Mix& mix) { return mix.rest <= 1.1F * best + 1e-4F * size; });
    result.far = candidates[static_cast<std::size_t>(chosen - mixes.begin())];
    result.share = chosen->share;
    const float explained = std::max(brightnessOf(result.far), brightnessOf(nearMean));
    if (!isNear && brightnessOf(here) > kGlint * explained)
        result.share = 0.0F; // light that neither of the two has: a glint of its own, at its own depth
    return result;
}

/// Takes the rim's pixels apart; returns where hidden surface is known from it.
void unmixRim(const RgbaImage& colour, const Plane<float>& radius, const Plane<std::uint8_t>& rim,
              const TypicalBrightness& typical, Surfaces& out, const Run& run)
{
    constexpr float least = 1.0F / 64.0F; // smaller shares are noise
    parallelFor(radius.height(), run, [&](int y) {
        for (int x = 0; x < radius.width(); ++x) {
            if (!rim.at(x, y))
                continue;
            const Unmixed parts = unmix(colour, radius, rim, x, y);
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
            out.visible.radiusPx.at(x, y) = parts.nearRadius;
            Colour behind = parts.far;
            if (share > 0.9F) // hardly seen: a guess
                typical.hold(behind, parts.farRadius, x, y);
            setColour(out.hidden.colour, x, y, behind);
            out.hidden.coverage.at(x, y) = 1.0F;
            out.hidden.evidence.at(x, y) = std::max(kGuess, 1.0F - share);
            out.hidden.radiusPx.at(x, y) = parts.farRadius;
        }
    });
}

struct Place
{
    int x;
    int y;
};

/// Continues the hidden surface at (x, y) from the neighbours that have it: the mean of those that lie about
/// as far as the farthest. False when none reaches here.
bool continueAt(const Surfaces& surfaces, const Plane<int>& ringOf, int ring, int x, int y, Colour& colour,
                float& radius)
{
    const float own = surfaces.visible.radiusPx.at(x, y);
    const SurfaceLayer& hidden = surfaces.hidden;
    const auto usable = [&](int nx, int ny) {
        const int its = ringOf.at(nx, ny);
        if (its < 0 || its >= ring)
            return false;
        const float behind = hidden.radiusPx.at(nx, ny);
        const float reach = std::abs(own) + std::abs(behind) + 1.0F;
        return behind > own && isEdge(behind, own) && static_cast<float>(ring) <= reach;
    };
    float farthest = -1e30F;
    around(hidden.coverage, x, y, 1, [&](int nx, int ny) {
        if (usable(nx, ny))
            farthest = std::max(farthest, hidden.radiusPx.at(nx, ny));
    });
    if (farthest < -1e29F)
        return false;
    colour = {};
    radius = 0.0F;
    float count = 0.0F;
    around(hidden.coverage, x, y, 1, [&](int nx, int ny) {
        if (!usable(nx, ny) || isEdge(hidden.radiusPx.at(nx, ny), farthest))
            return;
        const Colour its = colourAt(hidden.colour, nx, ny);
        // A lamp at the rim does not go on far behind it, its dark surroundings do.
        const float weight = (nx == x || ny == y ? 1.0F : 0.7F) * darkWeight(its);
        for (std::size_t c = 0; c < its.size(); ++c)
            colour[c] += weight * its[c];
        radius += weight * hidden.radiusPx.at(nx, ny);
        count += weight;
    });
    for (float& v : colour)
        v /= count;
    radius /= count;
    return true;
}

/// Decides how far each continued pixel counts, and multiplies colour by evidence.
void settleHidden(Surfaces& surfaces, const Plane<int>& ringOf, const Run& run)
{
    SurfaceLayer& hidden = surfaces.hidden;
    parallelFor(ringOf.height(), run, [&](int y) {
        for (int x = 0; x < ringOf.width(); ++x) {
            if (ringOf.at(x, y) < 0)
                continue;
            float& evidence = hidden.evidence.at(x, y);
            if (ringOf.at(x, y) > 0) {
                const float allowed = kSharperShare * std::abs(surfaces.visible.radiusPx.at(x, y)) + 0.5F;
                const float blur = std::abs(hidden.radiusPx.at(x, y)) / allowed;
                hidden.coverage.at(x, y) = std::clamp(2.0F - blur, 0.0F, 1.0F); // no sudden end
                evidence = kGuess * hidden.coverage.at(x, y);
            }
            for (int c = 0; c < RgbaImage::channels; ++c)
                hidden.colour.plane(c).at(x, y) *= evidence;
        }
    });
}

/// Grows the hidden layer inwards from the rim, ring by ring. A ring looks at earlier rings only, so the
/// result does not depend on the order of work.
void continueHidden(Surfaces& surfaces, const TypicalBrightness& typical, const Run& run)
{
    SurfaceLayer& hidden = surfaces.hidden;
    const int width = hidden.coverage.width();
    const int height = hidden.coverage.height();
    Plane<int> ringOf(width, height, -1);
    std::vector<Place> front;
    for (int y = 0; y < height; ++y) {
        for (int x = 0; x < width; ++x) {
            if (hidden.coverage.at(x, y) > 0.0F) {
                ringOf.at(x, y) = 0;
                front.push_back({x, y});
            }
        }
    }
    Plane<int> seen(width, height, -1); // last ring in which a pixel was looked at
    for (int ring = 1; !front.empty(); ++ring) {
        run.throwIfStopped();
        std::vector<Place> next;
        for (const Place& place : front) {
            around(hidden.coverage, place.x, place.y, 1, [&](int nx, int ny) {
                if (ringOf.at(nx, ny) >= 0 || seen.at(nx, ny) == ring)
                    return;
                seen.at(nx, ny) = ring;
                Colour colour;
                float radius = 0.0F;
                if (!continueAt(surfaces, ringOf, ring, nx, ny, colour, radius))
                    return;
                ringOf.at(nx, ny) = ring;
                typical.hold(colour, radius, nx, ny);
                setColour(hidden.colour, nx, ny, colour);
                hidden.radiusPx.at(nx, ny) = radius;
                next.push_back({nx, ny});
            });
        }
        front = std::move(next);
    }
    settleHidden(surfaces, ringOf, run);
}

} // namespace

Surfaces repairEdges(const RgbaImage& colour, const Plane<float>& radiusPx, const Run& run)
{
    const Run quiet{run.threads, {}, run.stop};
    Surfaces surfaces;
    surfaces.visible.colour = colour;
    surfaces.visible.coverage = Plane<float>(colour.width(), colour.height(), 1.0F);
    surfaces.visible.evidence = surfaces.visible.coverage;
    surfaces.visible.radiusPx = radiusPx;
    surfaces.hidden = SurfaceLayer(colour.width(), colour.height());
    const auto rim = findRim(radiusPx, quiet);
    const TypicalBrightness typical(colour, radiusPx, quiet);
    unmixRim(colour, radiusPx, rim, typical, surfaces, quiet);
    continueHidden(surfaces, typical, quiet);
    return surfaces;
}

} // namespace retinex::defocus
