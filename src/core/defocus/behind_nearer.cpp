#include "core/defocus/behind_nearer.h"

#include "core/defocus/line_direction.h"
#include "core/defocus/ring_growth.h"

#include <limits>
#include <tbb/concurrent_vector.h>

namespace retinex::defocus {

namespace {

constexpr float kBlurred = -2.0F; ///< only behind hidden things that lie so far in front of focus much shows

constexpr float kNowhere = std::numeric_limits<float>::max(); ///< a radius that nothing lies behind

/// What shows once the visible surface is taken away where something is known to be behind it.
class BehindVisible
{
public:
    BehindVisible(const Surfaces& surfaces, const Plane<int>& ringOf)
        : m_visible(surfaces.visible), m_hidden(surfaces.hidden), m_ringOf(ringOf)
    {
    }

    [[nodiscard]] bool isHidden(int x, int y) const { return m_ringOf.at(x, y) >= 0; }
    /// False where nothing is known.
    [[nodiscard]] bool radius(int x, int y, float& radius) const
    {
        if (!isHidden(x, y) && m_visible.coverage.at(x, y) < 1.0F) return false;
        radius = (isHidden(x, y) ? m_hidden : m_visible).radiusPx.at(x, y);
        return true;
    }
    [[nodiscard]] Colour colour(int x, int y) const
    {
        return colourAt((isHidden(x, y) ? m_hidden : m_visible).colour, x, y);
    }

private:
    const SurfaceLayer& m_visible;
    const SurfaceLayer& m_hidden;
    const Plane<int>& m_ringOf;
};

/// What begins behind the hidden surface at (x, y): the mean of the farthest of what lies behind it beside
/// the pixel. False where nothing does, or where it is too blurred to tell.
bool beginAt(const BehindVisible& behind, float own, SurfaceLayer& layer, int x, int y)
{
    const auto begun = meanOfFarthest(own, [&](auto visit) {
        around(layer.radiusPx, x, y, 1, [&](int nx, int ny) {
            float radius = 0.0F;
            if (behind.radius(nx, ny, radius) && radius > own && isEdge(radius, own))
                visit(radius, 1.0F, [&] { return behind.colour(nx, ny); });
        });
    });
    if (!begun) return false;
    setColour(layer.colour, x, y, begun->colour);
    layer.radiusPx.at(x, y) = begun->radius;
    layer.coverage.at(x, y) = tellsBehind(begun->farthest, own);
    layer.evidence.at(x, y) = kGuessEvidence * layer.coverage.at(x, y);
    return true;
}

/// Whether anything of it was found; `layer` is empty before.
bool continueBehindHidden(const Surfaces& surfaces, const Plane<int>& ringOf,
                          const TypicalBrightness& typical, SurfaceLayer& layer, const Run& run)
{
    const BehindVisible behind(surfaces, ringOf);
    Plane<float> before(ringOf.width(), ringOf.height(), kNowhere);
    std::vector<char> any(static_cast<std::size_t>(before.height()));
    parallelFor(before.height(), run, [&](int y) {
        for (int x = 0; x < before.width(); ++x) {
            if (!behind.isHidden(x, y) || surfaces.hidden.radiusPx.at(x, y) >= kBlurred) continue;
            before.at(x, y) = surfaces.hidden.radiusPx.at(x, y);
            if (beginAt(behind, before.at(x, y), layer, x, y)) any[static_cast<std::size_t>(y)] = 1;
        }
    });
    if (std::find(any.begin(), any.end(), 1) == any.end()) return false;
    settleGrown(before, growInwards(before, layer, typical, run), layer, run);
    return true;
}

/// How much of a thing of radius `own` that goes on behind a nearer one shows past that, as far as can be
/// told: where both are blurred alike, nothing; and behind the focal plane as elsewhere, what is blurred
/// itself is told better by what is seen of it.
float showing(float own, float nearer)
{
    constexpr float alike = 0.11F;
    constexpr float unlike = 0.18F;
    const float past = std::clamp((1.0F - own / nearer - alike) / (unlike - alike), 0.0F, 1.0F);
    return own <= 0.0F ? past : past * tellsBehind(own, nearer);
}

/// How long a line may be, px. The outline of a sharp thing shows, and so would a web between two things that
/// only lie equally far: it has to be plain that they are one.
float longestOf(float radius)
{
    return std::min(2.0F * kLongestLine, 18.0F + 12.0F * std::abs(radius));
}

/// Draws lines of what shows at both ends through what is nearer.
class LinesBetween
{
public:
    LinesBetween(const Surfaces& surfaces, const Plane<int>& ringOf, const Run& run)
        : m_visible(surfaces.visible), m_hidden(surfaces.hidden), m_ringOf(ringOf),
          m_shown(ringOf.width(), ringOf.height()), m_place(ringOf.width(), ringOf.height(), -1),
          m_blocks(ringOf.width(), ringOf.height()), m_starts(static_cast<std::size_t>(m_blocks.count())),
          m_run(run)
    {
        parallelFor(m_shown.height(), run, [&](int y) {
            for (int x = 0; x < m_shown.width(); ++x)
                m_shown.at(x, y) =
                    m_visible.coverage.at(x, y) >= 1.0F ? m_visible.radiusPx.at(x, y) : -kNowhere;
        });
        parallelFor(m_blocks.count(), run, [&](int block) { collect(block); });
    }

    void draw()
    {
        const auto directions = lineDirections(m_shown.width(), m_shown.height());
        m_blocks.drawEach(m_run, [&](int block) {
            for (const LineDirection& direction : directions) {
                m_run.throwIfStopped();
                for (const PixelPlace& start : m_starts[static_cast<std::size_t>(block)])
                    drawLine(direction, start);
            }
        });
    }

    /// Lays what was drawn over the layer; false when there is nothing.
    bool layOver(SurfaceLayer& layer, const TypicalBrightness& typical) const
    {
        bool any = false;
        for (const Drawn& drawn : m_drawn) {
            const auto [x, y] = drawn.place;
            const float coverage = showing(drawn.radius, m_visible.radiusPx.at(x, y));
            if (coverage <= 0.0F) continue;
            Colour colour = drawn.sum;
            for (float& v : colour)
                v /= drawn.weight;
            typical.hold(colour, drawn.radius, x, y);
            for (float& v : colour)
                v *= kGuessEvidence * coverage;
            setColour(layer.colour, x, y, colour);
            layer.coverage.at(x, y) = coverage;
            layer.evidence.at(x, y) = kGuessEvidence * coverage;
            layer.radiusPx.at(x, y) = drawn.radius;
            any = true;
        }
        return any;
    }

private:
    using Walk = LineDirection::Walk;

    /// What the lines through a pixel say.
    struct Drawn
    {
        PixelPlace place;
        float radius = 0.0F;
        float weight = 0.0F;
        float best = 0.0F; ///< largest weight of a line
        Colour sum{};      ///< by weight
    };

    [[nodiscard]] bool isNearer(const PixelPlace& at, float radius) const
    {
        const float own = m_visible.radiusPx.at(at.x, at.y);
        return own < radius && isEdge(own, radius);
    }

    /// Pixels beside nearer ones: there lines begin.
    void collect(int block)
    {
        m_blocks.eachPixel(block, [&](int x, int y) {
            const float radius = m_shown.at(x, y);
            if (radius == -kNowhere) return;
            bool isBeside = false;
            around(m_shown, x, y, 1, [&](int nx, int ny) {
                isBeside |=
                    isNearer({nx, ny}, radius) && showing(radius, m_visible.radiusPx.at(nx, ny)) > 0.0F;
            });
            if (isBeside) m_starts[static_cast<std::size_t>(block)].push_back({x, y});
        });
    }

    void drawLine(const LineDirection& direction, const PixelPlace& from)
    {
        const float fromRadius = m_shown.at(from.x, from.y);
        PixelPlace at;
        if (!direction.step(from, 1, at) || !m_shown.contains(at.x, at.y) || !isNearer(at, fromRadius) ||
            showing(fromRadius, m_visible.radiusPx.at(at.x, at.y)) <= 0.0F)
            return;
        const int most = static_cast<int>(longestOf(fromRadius) / direction.stepLength());
        const int length = direction.walk(m_shown, from, most, [&](float shown) {
            if (shown == -kNowhere) return Walk::on;
            if (!isEdge(shown, fromRadius)) return Walk::arrived;
            return shown > fromRadius ? Walk::lost : Walk::on;
        });
        PixelPlace to;
        if (length < 2 || !direction.step(from, length, to)) return;
        const float toRadius = m_shown.at(to.x, to.y);
        const Colour fromColour = colourAt(m_visible.colour, from.x, from.y);
        const Colour toColour = colourAt(m_visible.colour, to.x, to.y);
        const float weight = lineWeight(m_visible.colour, from, to, direction, [&](const PixelPlace& end) {
            return m_shown.contains(end.x, end.y) && m_shown.at(end.x, end.y) != -kNowhere &&
                   !isEdge(m_shown.at(end.x, end.y), fromRadius);
        });
        const float whole = static_cast<float>(length) * direction.stepLength();
        for (int i = 1; i < length; ++i) {
            const float share = static_cast<float>(i) / static_cast<float>(length);
            if (std::max(share, 1.0F - share) * whole > kLongestLine) continue;
            (void)direction.step(from, i, at);
            const float radius = fromRadius + share * (toRadius - fromRadius);
            if (!isBetween(at, radius)) continue;
            Colour colour = fromColour;
            for (std::size_t c = 0; c < colour.size(); ++c)
                colour[c] += share * (toColour[c] - fromColour[c]);
            add(at, radius, weight, colour);
        }
    }

    /// Whether a surface of that radius lies behind what shows at a pixel, and before what is hidden there.
    [[nodiscard]] bool isBetween(const PixelPlace& at, float radius) const
    {
        if (!isNearer(at, radius)) return false;
        if (m_ringOf.at(at.x, at.y) < 0) return true;
        const float hidden = m_hidden.radiusPx.at(at.x, at.y);
        return hidden > radius && isEdge(hidden, radius);
    }

    /// Of several surfaces that may go on at a pixel the one with the best line is kept.
    void add(const PixelPlace& at, float radius, float weight, const Colour& colour)
    {
        int& place = m_place.at(at.x, at.y);
        if (place < 0) place = static_cast<int>(m_drawn.push_back({at}) - m_drawn.begin());
        Drawn& drawn = m_drawn[static_cast<std::size_t>(place)];
        if (drawn.weight > 0.0F && isEdge(drawn.radius, radius)) {
            if (weight <= drawn.best) return;
            drawn = {at};
        }
        drawn.best = std::max(drawn.best, weight);
        drawn.weight += weight;
        drawn.radius = radius;
        for (std::size_t c = 0; c < colour.size(); ++c)
            drawn.sum[c] += weight * colour[c];
    }

    const SurfaceLayer& m_visible;
    const SurfaceLayer& m_hidden;
    const Plane<int>& m_ringOf;
    Plane<float> m_shown; ///< radius of pixels that show a surface whole; -kNowhere elsewhere
    Plane<int> m_place;   ///< of a pixel in m_drawn; -1 where nothing was drawn
    tbb::concurrent_vector<Drawn> m_drawn;
    LineBlocks m_blocks;
    std::vector<std::vector<PixelPlace>> m_starts; ///< of each block
    const Run& m_run;
};

} // namespace

void continueBehindNearer(Surfaces& surfaces, const Plane<int>& ringOf, const TypicalBrightness& typical,
                          const Run& run)
{
    SurfaceLayer layer(ringOf.width(), ringOf.height());
    const bool isBehind = continueBehindHidden(surfaces, ringOf, typical, layer, run);
    LinesBetween lines(surfaces, ringOf, run);
    lines.draw();
    const bool isBetween = lines.layOver(layer, typical);
    if (isBehind || isBetween) surfaces.third = std::move(layer);
}

} // namespace retinex::defocus
