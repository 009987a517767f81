#include "core/defocus/hidden/behind_nearer.h"

#include "core/defocus/hidden/ends_around.h"
#include "core/defocus/hidden/line_direction.h"
#include "core/defocus/hidden/line_sum.h"
#include "core/defocus/hidden/ring_growth.h"

#include <algorithm>
#include <atomic>
#include <tbb/concurrent_vector.h>

namespace retinex::defocus {

namespace {

/// What shows once the visible surface is taken away where something is known to be behind it.
class BehindVisible
{
public:
    BehindVisible(const Surfaces& surfaces, const Rings& rings)
        : m_visible(surfaces.visible), m_hidden(surfaces.hidden), m_rings(rings)
    {
    }

    [[nodiscard]] bool isHidden(int x, int y) const { return m_rings.has(x, y); }
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
    const Rings& m_rings;
};

/// What begins behind the hidden surface at (x, y): the mean of the farthest of what lies behind it beside
/// the pixel. False where nothing does, or where it is too blurred to tell.
bool beginAt(const BehindVisible& behind, float own, SurfaceLayer& layer, int x, int y)
{
    const auto begun = meanOfFarthest(own, [&](auto visit) {
        around(layer.radiusPx, x, y, 1, [&](int nx, int ny) {
            float radius = 0.0F;
            if (behind.radius(nx, ny, radius) && liesBehind(radius, own))
                visit(radius, 1.0F, [&] { return behind.colour(nx, ny); });
        });
    });
    if (!begun) return false;
    setColour(layer.colour, x, y, begun->colour);
    layer.radiusPx.at(x, y) = begun->radius;
    layer.coverage.at(x, y) = tellsBehind(begun->farthest, own);
    layer.evidence.at(x, y) = guessEvidence(begun->radius) * layer.coverage.at(x, y);
    return true;
}

/// Whether anything of it was found; `layer` is empty before.
bool continueBehindHidden(const Surfaces& surfaces, const Rings& rings, const TypicalBrightness& typical,
                          SurfaceLayer& layer, const Run& run)
{
    const BehindVisible behind(surfaces, rings);
    const Before before(surfaces.hidden.radiusPx, rings);
    std::vector<char> any(static_cast<std::size_t>(before.height()));
    parallelFor(before.height(), run, [&](int y) {
        for (int x = 0; x < before.width(); ++x) {
            const float own = before.at(x, y);
            if (own != Before::kNowhere && beginAt(behind, own, layer, x, y))
                any[static_cast<std::size_t>(y)] = 1;
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
    LinesBetween(const Surfaces& surfaces, const Rings& rings, const Run& run)
        : m_visible(surfaces.visible), m_hidden(surfaces.hidden), m_rings(rings),
          m_place(rings.width(), rings.height()), m_blocks(rings.width(), rings.height()),
          m_starts(static_cast<std::size_t>(m_blocks.count())), m_run(run)
    {
        m_place.expectFewWritten();
        parallelFor(m_blocks.rows(), run, [&](int row) { collect(row); });
    }

    void draw()
    {
        const auto directions = lineDirections(m_place.width(), m_place.height());
        m_blocks.drawEach(m_run, [&](int block) {
            for (const LineDirection& direction : directions) {
                m_run.throwIfStopped();
                for (const LineStart& start : m_starts[static_cast<std::size_t>(block)]) {
                    PixelPlace next;
                    if (direction.step(start.place(), 1, next) && start.has(next))
                        drawLine(direction, start.place());
                }
            }
        });
    }

    /// Lays what was drawn over the layer; false when there is nothing.
    bool layOver(SurfaceLayer& layer, const TypicalBrightness& typical) const
    {
        std::atomic<bool> any = false;
        parallelForMany(m_drawn.size(), m_run, [&](std::size_t i) {
            if (layOver(layer, typical, m_drawn[i])) any.store(true, std::memory_order_relaxed);
        });
        return any;
    }

private:
    using Walk = LineDirection::Walk;

    struct Drawn
    {
        PixelPlace place;
        LineSum says;
    };

    bool layOver(SurfaceLayer& layer, const TypicalBrightness& typical, const Drawn& drawn) const
    {
        const auto& [place, says] = drawn;
        const auto [x, y] = place;
        const float coverage = showing(says.radius, m_visible.radiusPx.at(x, y));
        if (coverage <= 0.0F) return false;
        Colour colour = says.mean();
        typical.hold(colour, says.radius, x, y);
        const float evidence = guessEvidence(says.radius) * coverage;
        for (float& v : colour)
            v *= evidence;
        setColour(layer.colour, x, y, colour);
        layer.coverage.at(x, y) = coverage;
        layer.evidence.at(x, y) = evidence;
        layer.radiusPx.at(x, y) = says.radius;
        return true;
    }

    [[nodiscard]] bool isNearer(const PixelPlace& at, float radius) const
    {
        return liesBehind(radius, m_visible.radiusPx.at(at.x, at.y));
    }

    /// Lines begin at pixels beside nearer ones, past which they show.
    void collect(int rowOfBlocks)
    {
        EndsAround ends(m_visible.radiusPx);
        for (int y = rowOfBlocks * LineBlocks::size;
             y < std::min((rowOfBlocks + 1) * LineBlocks::size, m_place.height()); ++y) {
            m_run.throwIfStopped();
            ends.look(y);
            const float* radius = m_visible.radiusPx.row(y);
            const float* coverage = m_visible.coverage.row(y);
            // Most pixels have no neighbour that is nearer by enough to be across an edge.
            for (int x = 0; x < m_place.width(); ++x)
                if (ends.nearest()[x] < radius[x] - kEdgePx && coverage[x] >= 1.0F) addStart({x, y});
        }
    }

    void addStart(const PixelPlace& place)
    {
        LineStart start(place);
        const float radius = m_visible.radiusPx.at(place.x, place.y);
        around(m_visible.radiusPx, place.x, place.y, 1, [&](int x, int y) {
            if (isNearer({x, y}, radius) && showing(radius, m_visible.radiusPx.at(x, y)) > 0.0F)
                start.add({x, y});
        });
        if (start.hasAny())
            m_starts[static_cast<std::size_t>(m_blocks.at(place.x, place.y))].push_back(start);
    }

    void drawLine(const LineDirection& direction, const PixelPlace& from)
    {
        const float fromRadius = m_visible.radiusPx.at(from.x, from.y);
        const int most = static_cast<int>(longestOf(fromRadius) / direction.stepLength());
        const int length = direction.walk(from, most, [&](std::size_t pixel) {
            const float radius = m_visible.radiusPx.pixels()[pixel];
            const bool isAcross = isEdge(radius, fromRadius);
            if ((isAcross && radius < fromRadius) || m_visible.coverage.pixels()[pixel] < 1.0F)
                return Walk::on;
            return isAcross ? Walk::lost : Walk::arrived;
        });
        PixelPlace to;
        if (length < 2 || !direction.step(from, length, to)) return;
        const float toRadius = m_visible.radiusPx.at(to.x, to.y);
        const Colour fromColour = colourAt(m_visible.colour, from.x, from.y);
        const Colour toColour = colourAt(m_visible.colour, to.x, to.y);
        float weight = 0.0F;
        const float whole = static_cast<float>(length) * direction.stepLength();
        for (int i = 1; i < length; ++i) {
            const float share = static_cast<float>(i) / static_cast<float>(length);
            if (std::max(share, 1.0F - share) * whole > kLongestLine) continue;
            PixelPlace at;
            (void)direction.step(from, i, at);
            const float radius = fromRadius + share * (toRadius - fromRadius);
            if (!isBetween(at, radius)) continue;
            if (weight == 0.0F) weight = weightOf(direction, from, to);
            add(at, radius, weight, between(fromColour, toColour, share));
        }
    }

    [[nodiscard]] float weightOf(const LineDirection& direction, const PixelPlace& from,
                                 const PixelPlace& to) const
    {
        const float radius = m_visible.radiusPx.at(from.x, from.y);
        return lineWeight(m_visible.colour, from, to, direction, [&](const PixelPlace& end) {
            return m_place.contains(end.x, end.y) && m_visible.coverage.at(end.x, end.y) >= 1.0F &&
                   !isEdge(m_visible.radiusPx.at(end.x, end.y), radius);
        });
    }

    /// Whether a surface of that radius lies behind what shows at a pixel, and before what is hidden there.
    [[nodiscard]] bool isBetween(const PixelPlace& at, float radius) const
    {
        if (!isNearer(at, radius)) return false;
        if (!m_rings.has(at.x, at.y)) return true;
        return liesBehind(m_hidden.radiusPx.at(at.x, at.y), radius);
    }

    void add(const PixelPlace& at, float radius, float weight, const Colour& colour)
    {
        int& place = m_place.at(at.x, at.y);
        if (place == 0) place = static_cast<int>(m_drawn.push_back({at, {}}) - m_drawn.begin()) + 1;
        m_drawn[static_cast<std::size_t>(place - 1)].says.addBest(radius, weight, colour);
    }

    const SurfaceLayer& m_visible;
    const SurfaceLayer& m_hidden;
    const Rings& m_rings;
    Plane<int> m_place; ///< of a pixel in m_drawn, counted from 1; 0 where nothing was drawn
    tbb::concurrent_vector<Drawn> m_drawn;
    LineBlocks m_blocks;
    std::vector<std::vector<LineStart>> m_starts; ///< of each block
    const Run& m_run;
};

} // namespace

void continueBehindNearer(Surfaces& surfaces, const Rings& rings, const TypicalBrightness& typical,
                          const Run& run)
{
    SurfaceLayer layer(rings.width(), rings.height());
    layer.expectFewWritten();
    const bool isBehind = continueBehindHidden(surfaces, rings, typical, layer, run);
    LinesBetween lines(surfaces, rings, run);
    lines.draw();
    const bool isBetween = lines.layOver(layer, typical);
    if (isBehind || isBetween) surfaces.third = std::move(layer);
}

} // namespace retinex::defocus
