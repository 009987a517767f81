#include "core/defocus/hidden/hidden_texture.h"

#include "core/defocus/hidden/line_direction.h"
#include "core/defocus/hidden/line_sum.h"
#include "core/defocus/hidden/outline_ends.h"

#include <optional>
#include <utility>
#include <vector>

namespace retinex::defocus {

namespace {

/// Pixels that show a surface whole; all others are covered, and lines go on through them.
constexpr int kShown = -1;
/// Covered, but not continued: of mixed pixels the hidden part is known.
constexpr int kKnown = -2;

/// The nearest edge between two colours that goes straight on beside a pixel.
struct ColourEdge
{
    float weight = 0.0F; ///< 0: there is none
    Colour inside{};     ///< on the pixel's side of it
    Colour outside{};

    void take(float itsWeight, const Colour& itsInside, const Colour& itsOutside)
    {
        if (itsWeight > weight) *this = {itsWeight, itsInside, itsOutside};
    }
    /// Whether a line of that colour would have to come across the edge.
    [[nodiscard]] bool keepsOut(const Colour& colour) const
    {
        return weight > 0.0F && distanceSquared(colour, outside) < distanceSquared(colour, inside);
    }
};

/// A continued pixel: what the lines through it say of the surface that came to it, and of another one.
struct Continued
{
    PixelPlace place;
    LineSum own;
    LineSum other;
    LineSum beside;  ///< what lies on its side of outlines that go on near by
    ColourEdge edge; ///< of the surface that came to it

    /// Of what goes on here, that for which most speaks.
    [[nodiscard]] const LineSum& most() const
    {
        float forOwn = own.weight;
        float forOther = other.weight;
        const LineSum* another = &other;
        if (beside.weight > 0.0F) {
            if (!isEdge(beside.radius, own.radius)) {
                forOwn += beside.weight;
            } else if (other.weight > 0.0F && !isEdge(beside.radius, other.radius)) {
                forOther += beside.weight;
            } else if (beside.weight > forOther) {
                forOther = beside.weight;
                another = &beside;
            }
        }
        return forOther > forOwn ? *another : own;
    }
};

/// Millions of them: those who fill it are the first to touch its memory.
using ContinuedList = std::vector<Continued, ZeroedMemory<Continued>>;

class Texture
{
public:
    Texture(const Surfaces& surfaces, const Rings& rings, const Run& run)
        : m_visible(surfaces.visible), m_hidden(surfaces.hidden), m_cover(rings.width(), rings.height()),
          m_grid(rings.width(), rings.height()), m_run(run)
    {
        parallelFor(rings.height(), run, [&](int y) {
            for (int x = 0; x < rings.width(); ++x) {
                m_cover.at(x, y) = isShownWhole(m_visible, rings, x, y) ? kShown : kKnown;
            }
        });
        collect(rings);
    }

    /// Returns the continued pixels.
    const ContinuedList& draw()
    {
        const auto directions = lineDirections(m_cover.width(), m_cover.height());
        m_grid.drawEach(m_run, [&](int block) {
            for (const LineDirection& direction : directions) {
                m_run.throwIfStopped();
                drawFrom(m_blocks[static_cast<std::size_t>(block)], direction);
            }
        });
        return m_continued;
    }

    /// What lies on the two sides of an outline that goes straight on counts as lines of twice the way to its
    /// end do, of which both ends look alike.
    void goOn(const OutlineEnd& end)
    {
        const auto isHidden = [&](const PixelPlace& at) { return contains(at) && !isShown(at); };
        alongOutline(end, isHidden,
                     [&](const PixelPlace& at, float away, const OutlineEnd::Side& side,
                         const OutlineEnd::Side& across) {
                         if (!contains(at) || m_cover.at(at.x, at.y) < 0) return;
                         if (!liesBehind(side.radius, m_visible.radiusPx.at(at.x, at.y))) return;
                         Continued& pixel = m_continued[static_cast<std::size_t>(m_cover.at(at.x, at.y))];
                         const float weight = lineWeight(0.0F, 2.0F * away);
                         if (!end.isOfColour) {
                             pixel.beside.addBest(side.radius, weight, side.colour);
                         } else if (!isEdge(side.radius, pixel.own.radius)) {
                             pixel.edge.take(weight, side.colour, across.colour);
                         }
                     });
    }

private:
    struct Block
    {
        std::vector<LineStart> rim; ///< covered pixels, and shown ones beside them that may go on behind
        std::vector<PixelPlace> continued; ///< until they have their place in m_continued
        std::size_t first = 0;             ///< place there
    };

    [[nodiscard]] bool isShown(const PixelPlace& at) const { return m_cover.at(at.x, at.y) == kShown; }
    [[nodiscard]] bool contains(const PixelPlace& at) const { return m_cover.contains(at.x, at.y); }

    void collect(const Rings& rings)
    {
        m_blocks.resize(static_cast<std::size_t>(m_grid.count()));
        parallelFor(m_grid.count(), m_run, [&](int index) {
            Block& block = m_blocks[static_cast<std::size_t>(index)];
            m_grid.eachPixel(index, [&](int x, int y) {
                if (isShown({x, y})) return;
                if (rings.isGrown(x, y)) block.continued.push_back({x, y});
                LineStart rim({x, y});
                around(m_cover, x, y, 1, [&](int nx, int ny) {
                    if (isShown({nx, ny}) && goesOnAt(rings, {nx, ny}, {x, y})) rim.add({nx, ny});
                });
                if (rim.hasAny()) block.rim.push_back(rim);
            });
        });
        std::size_t count = 0;
        for (Block& block : m_blocks)
            block.first = std::exchange(count, count + block.continued.size());
        m_continued.resize(count);
        parallelFor(m_grid.count(), m_run, [&](int index) {
            const Block& block = m_blocks[static_cast<std::size_t>(index)];
            std::size_t to = block.first;
            for (const PixelPlace& at : block.continued) {
                m_cover.at(at.x, at.y) = static_cast<int>(to);
                m_continued[to].place = at;
                m_continued[to++].own.radius = m_hidden.radiusPx.at(at.x, at.y);
            }
        });
    }

    void drawFrom(const Block& block, const LineDirection& direction)
    {
        for (const LineStart& rim : block.rim) {
            PixelPlace before;
            if (direction.step(rim.place(), -1, before) && rim.has(before)) drawLine(direction, before);
        }
    }

    /// Whether what is shown may go on behind the covered pixel beside it: what it covers lies as far off.
    [[nodiscard]] bool goesOnAt(const Rings& rings, const PixelPlace& shown, const PixelPlace& covered) const
    {
        const bool isKnown =
            rings.isGrown(covered.x, covered.y) || m_hidden.coverage.at(covered.x, covered.y) > 0.0F;
        return !isKnown ||
               !isEdge(m_hidden.radiusPx.at(covered.x, covered.y), m_visible.radiusPx.at(shown.x, shown.y));
    }

    /// How the radius at an end of a line changes with each step along it, as the surface beyond that end
    /// tells: `step` is -1 at the first end and 1 at the second. Nothing where it does not go on there.
    [[nodiscard]] std::optional<float> slopeAt(const LineDirection& direction, const PixelPlace& end,
                                               int step) const
    {
        constexpr int furthest = 3;
        const float radius = m_visible.radiusPx.at(end.x, end.y);
        std::optional<float> slope;
        for (int i = 1; i <= furthest; ++i) {
            PixelPlace beyond;
            if (!direction.step(end, i * step, beyond) || !contains(beyond) || !isShown(beyond)) break;
            const float its = m_visible.radiusPx.at(beyond.x, beyond.y);
            if (isEdge(its, radius)) break;
            slope = (its - radius) / static_cast<float>(i * step);
        }
        return slope;
    }

    /// Whether the two ends of a line of `length` steps show one surface: they are blurred alike, or as the
    /// slopes of both let expect (of a plane the radius changes evenly across the picture).
    [[nodiscard]] bool isOneSurface(const LineDirection& direction, const PixelPlace& from,
                                    const PixelPlace& to, int length) const
    {
        const float fromRadius = m_visible.radiusPx.at(from.x, from.y);
        const float toRadius = m_visible.radiusPx.at(to.x, to.y);
        if (!isEdge(fromRadius, toRadius)) return true;
        const auto fromSlope = slopeAt(direction, from, -1);
        const auto toSlope = slopeAt(direction, to, 1);
        return fromSlope && toSlope &&
               !isEdge(fromRadius + 0.5F * (*fromSlope + *toSlope) * static_cast<float>(length), toRadius);
    }

    /// The line from a shown pixel through covered ones to the next shown one, if that is near enough and
    /// shows the same surface.
    void drawLine(const LineDirection& direction, const PixelPlace& from)
    {
        const int most = static_cast<int>(2.0F * kLongestLine / direction.stepLength());
        bool any = false;
        const int length = direction.walk(from, most, [&](std::size_t pixel) {
            const int cover = m_cover.pixels()[pixel];
            any |= cover >= 0;
            return cover == kShown ? LineDirection::Walk::arrived : LineDirection::Walk::on;
        });
        PixelPlace to;
        if (length == 0 || !any || !direction.step(from, length, to)) return;
        if (!isOneSurface(direction, from, to, length)) return;
        const float fromRadius = m_visible.radiusPx.at(from.x, from.y);
        const float toRadius = m_visible.radiusPx.at(to.x, to.y);
        const Colour fromColour = colourAt(m_visible.colour, from.x, from.y);
        const Colour toColour = colourAt(m_visible.colour, to.x, to.y);
        const float whole = static_cast<float>(length) * direction.stepLength();
        float weight = 0.0F;
        float alike = 0.0F;
        for (int i = 1; i < length; ++i) {
            PixelPlace at;
            (void)direction.step(from, i, at);
            const int index = m_cover.at(at.x, at.y);
            if (index < 0) continue;
            const float share = static_cast<float>(i) / static_cast<float>(length);
            if (std::max(share, 1.0F - share) * whole > kLongestLine) continue;
            Continued& pixel = m_continued[static_cast<std::size_t>(index)];
            const float radius = fromRadius + share * (toRadius - fromRadius);
            const bool isOther = isEdge(radius, pixel.own.radius);
            // Not of what slopes: too much of its texture lies between such ends.
            if (isOther ? !liesBehind(radius, m_visible.radiusPx.at(at.x, at.y))
                        : isEdge(fromRadius, toRadius))
                continue;
            if (weight == 0.0F) {
                weight = lineWeight(m_visible.colour, from, to, direction, [&](const PixelPlace& end) {
                    return contains(end) && isShown(end) &&
                           !isEdge(m_visible.radiusPx.at(end.x, end.y), fromRadius);
                });
                alike = endsAlike(weight, whole);
            }
            const Colour colour = between(fromColour, toColour, share);
            if (isOther)
                pixel.other.addBest(radius, weight, colour, alike);
            else if (!pixel.edge.keepsOut(colour))
                pixel.own.add(weight, colour, alike);
        }
    }

    const SurfaceLayer& m_visible;
    const SurfaceLayer& m_hidden;
    Plane<int> m_cover; ///< kShown, kKnown, or the place in m_continued
    ContinuedList m_continued;
    LineBlocks m_grid;
    std::vector<Block> m_blocks; ///< of the grid
    const Run& m_run;
};

} // namespace

Plane<float> drawHiddenTexture(Surfaces& surfaces, const Rings& rings, const TypicalBrightness& typical,
                               const Run& run)
{
    Plane<float> sure(rings.width(), rings.height());
    sure.expectFewWritten();
    Texture texture(surfaces, rings, run);
    SurfaceLayer& hidden = surfaces.hidden;
    const auto ends = findOutlineEnds(surfaces, rings, run);
    for (const OutlineEnd& end : ends) {
        run.throwIfStopped();
        texture.goOn(end);
    }
    const ContinuedList& drawn = texture.draw();
    parallelForMany(drawn.size(), run, [&](std::size_t i) {
        const PixelPlace& place = drawn[i].place;
        const LineSum& says = drawn[i].most();
        const ColourEdge& edge = drawn[i].edge;
        if (says.weight <= 0.0F && edge.weight <= 0.0F) return;
        hidden.radiusPx.at(place.x, place.y) = says.radius;
        sure.at(place.x, place.y) = says.sure;
        Colour colour = says.weight > 0.0F ? says.mean() : edge.inside;
        typical.hold(colour, says.radius, place.x, place.y);
        setColour(hidden.colour, place.x, place.y, colour);
    });
    return sure;
}

} // namespace retinex::defocus
