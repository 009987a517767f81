#include "core/defocus/hidden_texture.h"

#include "core/defocus/pixel_colour.h"

#include <array>
#include <cmath>
#include <numbers>
#include <vector>

namespace retinex::defocus {

namespace {

constexpr int kDirections = 20;   ///< over half a turn
constexpr float kLongest = 48.0F; ///< px from a pixel to an end of its line
constexpr int kAcross = 2;        ///< px to each side of a line's end that are compared
constexpr float kSharpness = 30.0F;
constexpr float kOfLength = 0.004F; ///< cost of a px of length

/// Pixels that show a surface whole; all others are covered, and lines go on through them.
constexpr int kShown = -1;
/// Covered, but not continued: of mixed pixels the hidden part is known.
constexpr int kKnown = -2;

/// All lines of one direction: a pixel lies on exactly one of them, and a step goes on by one pixel along the
/// axis that the direction is nearer to.
class Direction
{
public:
    Direction(double angle, int width, int height)
        : m_alongX(std::abs(std::cos(angle)) >= std::abs(std::sin(angle)))
    {
        // In 64ths, so that lines lie alike in a picture that is cut out at multiples of 64 px.
        const double slope = std::round(64.0 * (m_alongX ? std::tan(angle) : 1.0 / std::tan(angle))) / 64.0;
        const int count = m_alongX ? width : height;
        m_sizeAcross = m_alongX ? height : width;
        m_stride = m_alongX ? width : 1;
        m_shift.reserve(static_cast<std::size_t>(count));
        for (int i = 0; i < count; ++i) {
            m_shift.push_back(static_cast<int>(std::floor(slope * i + 0.5)));
            m_pixel.push_back(m_shift.back() * m_stride + (m_alongX ? i : i * width));
        }
        m_step = static_cast<float>(std::hypot(1.0, slope));
        m_slope = static_cast<float>(slope);
        for (int k = -kAcross; k <= kAcross; ++k)
            across[static_cast<std::size_t>(k + kAcross)] = {
                static_cast<int>(std::lround(-k * std::sin(angle))),
                static_cast<int>(std::lround(k * std::cos(angle)))};
    }

    std::array<PixelPlace, 2 * kAcross + 1> across;

    [[nodiscard]] float stepLength() const { return m_step; }

    /// The neighbour across the axis.
    [[nodiscard]] PixelPlace beside(const PixelPlace& at, int side) const
    {
        return m_alongX ? PixelPlace{at.x, at.y + side} : PixelPlace{at.x + side, at.y};
    }

    /// How far, across the axis, the straight line through the middle of `from` passes beside that of `to`,
    /// both on one line of pixels.
    [[nodiscard]] float offset(const PixelPlace& from, const PixelPlace& to) const
    {
        return m_alongX ? static_cast<float>(from.y - to.y) + m_slope * static_cast<float>(to.x - from.x)
                        : static_cast<float>(from.x - to.x) + m_slope * static_cast<float>(to.y - from.y);
    }

    /// The pixel `steps` on; false beyond the picture along the axis.
    [[nodiscard]] bool step(const PixelPlace& from, int steps, PixelPlace& to) const
    {
        const int at = m_alongX ? from.x : from.y;
        const int next = at + steps;
        if (next < 0 || next >= static_cast<int>(m_shift.size())) return false;
        const int shift = m_shift[static_cast<std::size_t>(next)] - m_shift[static_cast<std::size_t>(at)];
        to = m_alongX ? PixelPlace{next, from.y + shift} : PixelPlace{from.x + shift, next};
        return true;
    }

    /// The first of the pixels from `from` on, at most `most` steps away, for which `isEnd` says so of its
    /// value in `plane`: how many steps away it is. 0 where the line leaves the picture before, or goes on.
    template <class IsEnd>
    [[nodiscard]] int stepsTo(const Plane<int>& plane, const PixelPlace& from, int most, IsEnd isEnd) const
    {
        const int at = m_alongX ? from.x : from.y;
        const int aside = (m_alongX ? from.y : from.x) - m_shift[static_cast<std::size_t>(at)];
        const int* values = plane.pixels().data();
        const int last = std::min(most, static_cast<int>(m_shift.size()) - 1 - at);
        for (int steps = 1; steps <= last; ++steps) {
            const auto next = static_cast<std::size_t>(at + steps);
            const int beside = aside + m_shift[next];
            if (beside < 0 || beside >= m_sizeAcross) return 0;
            if (isEnd(values[aside * m_stride + m_pixel[next]])) return steps;
        }
        return 0;
    }

private:
    bool m_alongX;
    int m_sizeAcross = 0;     ///< of the picture, px
    int m_stride = 1;         ///< from one pixel to the next across
    std::vector<int> m_shift; ///< across, at each place along
    std::vector<int> m_pixel; ///< the number of the pixel there, of the line through pixel 0
    float m_step = 1.0F;
    float m_slope = 0.0F;
};

/// A continued pixel: what the lines through it say, summed up.
struct Continued
{
    PixelPlace place;
    float radius = 0.0F;
    float weight = 0.0F;
    Colour sum{};
};

class Texture
{
public:
    Texture(const Surfaces& surfaces, const Plane<int>& ringOf, const Run& run)
        : m_visible(surfaces.visible), m_hidden(surfaces.hidden), m_cover(ringOf.width(), ringOf.height()),
          m_run(run)
    {
        parallelFor(ringOf.height(), run, [&](int y) {
            for (int x = 0; x < ringOf.width(); ++x) {
                const bool isShown = ringOf.at(x, y) < 0 && m_visible.coverage.at(x, y) >= 1.0F;
                m_cover.at(x, y) = isShown ? kShown : kKnown;
            }
        });
        collect(ringOf);
    }

    /// Returns the continued pixels.
    const std::vector<Continued>& draw()
    {
        std::vector<Direction> directions;
        for (int i = 0; i < kDirections; ++i)
            directions.emplace_back(std::numbers::pi * i / kDirections, m_cover.width(), m_cover.height());
        // Block after block, since what lies on one line is then near by in memory. Lines from blocks with
        // another between them never meet, and those of every second block can be drawn at once.
        for (int phase = 0; phase < 4; ++phase) {
            std::vector<const Block*> blocks;
            for (int y = phase / 2; y < m_rows; y += 2)
                for (int x = phase % 2; x < m_columns; x += 2)
                    blocks.push_back(&m_blocks[static_cast<std::size_t>(y * m_columns + x)]);
            parallelFor(static_cast<int>(blocks.size()), m_run, [&](int i) {
                for (const Direction& direction : directions) {
                    m_run.throwIfStopped();
                    drawFrom(*blocks[static_cast<std::size_t>(i)], direction);
                }
            });
        }
        return m_continued;
    }

private:
    static constexpr int kBlock = 192;
    static_assert(kBlock >= 2.0F * (2.0F * kLongest));

    struct Block
    {
        std::vector<PixelPlace> rim;       ///< covered pixels beside shown ones: there lines begin
        std::vector<PixelPlace> continued; ///< until they have their place in m_continued
    };

    [[nodiscard]] bool isShown(const PixelPlace& at) const { return m_cover.at(at.x, at.y) == kShown; }
    [[nodiscard]] bool contains(const PixelPlace& at) const { return m_cover.contains(at.x, at.y); }

    void collect(const Plane<int>& ringOf)
    {
        m_columns = (m_cover.width() + kBlock - 1) / kBlock;
        m_rows = (m_cover.height() + kBlock - 1) / kBlock;
        m_blocks.resize(static_cast<std::size_t>(m_columns * m_rows));
        parallelFor(m_columns * m_rows, m_run, [&](int index) {
            Block& block = m_blocks[static_cast<std::size_t>(index)];
            const int bx = index % m_columns * kBlock;
            const int by = index / m_columns * kBlock;
            for (int y = by; y < std::min(by + kBlock, m_cover.height()); ++y) {
                for (int x = bx; x < std::min(bx + kBlock, m_cover.width()); ++x) {
                    if (isShown({x, y})) continue;
                    if (ringOf.at(x, y) > 0) block.continued.push_back({x, y});
                    bool isRim = false;
                    around(m_cover, x, y, 1, [&](int nx, int ny) { isRim |= isShown({nx, ny}); });
                    if (isRim) block.rim.push_back({x, y});
                }
            }
        });
        for (Block& block : m_blocks) {
            for (const PixelPlace& at : block.continued) {
                m_cover.at(at.x, at.y) = static_cast<int>(m_continued.size());
                m_continued.push_back({at, m_hidden.radiusPx.at(at.x, at.y), 0.0F, {}});
            }
        }
    }

    void drawFrom(const Block& block, const Direction& direction)
    {
        for (const PixelPlace& rim : block.rim) {
            PixelPlace before;
            if (direction.step(rim, -1, before) && contains(before) && isShown(before) &&
                goesOnAt(before, rim))
                drawLine(direction, before);
        }
    }

    /// Whether what is shown may go on behind the covered pixel beside it: what it covers lies as far off.
    [[nodiscard]] bool goesOnAt(const PixelPlace& shown, const PixelPlace& covered) const
    {
        const bool isKnown =
            m_cover.at(covered.x, covered.y) >= 0 || m_hidden.coverage.at(covered.x, covered.y) > 0.0F;
        return !isKnown ||
               !isEdge(m_hidden.radiusPx.at(covered.x, covered.y), m_visible.radiusPx.at(shown.x, shown.y));
    }

    /// The line from a shown pixel through covered ones to the next shown one, if that is near enough.
    void drawLine(const Direction& direction, const PixelPlace& from)
    {
        const int most = static_cast<int>(2.0F * kLongest / direction.stepLength());
        bool any = false;
        const int length = direction.stepsTo(m_cover, from, most, [&](int cover) {
            any |= cover >= 0;
            return cover == kShown;
        });
        PixelPlace to;
        if (length == 0 || !any || !direction.step(from, length, to)) return;
        const float fromRadius = m_visible.radiusPx.at(from.x, from.y);
        const float toRadius = m_visible.radiusPx.at(to.x, to.y);
        const Colour fromColour = colourAt(m_visible.colour, from.x, from.y);
        const Colour toColour = colourAt(m_visible.colour, to.x, to.y);
        const float whole = static_cast<float>(length) * direction.stepLength();
        float weight = 0.0F;
        for (int i = 1; i < length; ++i) {
            PixelPlace at;
            (void)direction.step(from, i, at);
            const int index = m_cover.at(at.x, at.y);
            if (index < 0) continue;
            const float share = static_cast<float>(i) / static_cast<float>(length);
            if (std::max(share, 1.0F - share) * whole > kLongest) continue;
            Continued& pixel = m_continued[static_cast<std::size_t>(index)];
            // Another surface: in front, it is too wide to look behind; farther off, this one has ended
            // before.
            if (isEdge(fromRadius, pixel.radius) || isEdge(toRadius, pixel.radius)) continue;
            if (weight == 0.0F) weight = std::exp(-kSharpness * costOf(from, to, direction, whole)) / whole;
            for (std::size_t c = 0; c < pixel.sum.size(); ++c)
                pixel.sum[c] += weight * (fromColour[c] + share * (toColour[c] - fromColour[c]));
            pixel.weight += weight;
        }
    }

    /// How unlike two ends look, across the line. The line does not end in the middle of a pixel: the second
    /// end is looked at between pixels.
    [[nodiscard]] float costOf(const PixelPlace& a, const PixelPlace& b, const Direction& direction,
                               float length) const
    {
        const float radius = m_visible.radiusPx.at(a.x, a.y);
        const auto tells = [&](const PixelPlace& at) {
            return contains(at) && isShown(at) && !isEdge(m_visible.radiusPx.at(at.x, at.y), radius);
        };
        const float offset = direction.offset(a, b);
        const int side = offset < 0.0F ? -1 : 1;
        float differ = 0.0F;
        float size = 1e-4F;
        for (const PixelPlace& step : direction.across) {
            const PixelPlace atA{a.x + step.x, a.y + step.y};
            const PixelPlace atB{b.x + step.x, b.y + step.y};
            if (!tells(atA) || !tells(atB)) continue;
            const Colour ca = colourAt(m_visible.colour, atA.x, atA.y);
            Colour cb = colourAt(m_visible.colour, atB.x, atB.y);
            if (const PixelPlace beside = direction.beside(atB, side); tells(beside)) {
                const Colour next = colourAt(m_visible.colour, beside.x, beside.y);
                for (std::size_t c = 0; c < cb.size(); ++c)
                    cb[c] += std::abs(offset) * (next[c] - cb[c]);
            }
            differ += distanceSquared(ca, cb);
            size += distanceSquared(ca, {}) + distanceSquared(cb, {});
        }
        return std::sqrt(differ / size) + kOfLength * length;
    }

    const SurfaceLayer& m_visible;
    const SurfaceLayer& m_hidden;
    Plane<int> m_cover; ///< kShown, kKnown, or the place in m_continued
    std::vector<Continued> m_continued;
    std::vector<Block> m_blocks; ///< row after row
    int m_columns = 0;
    int m_rows = 0;
    const Run& m_run;
};

} // namespace

void drawHiddenTexture(Surfaces& surfaces, const Plane<int>& ringOf, const TypicalBrightness& typical,
                       const Run& run)
{
    Texture texture(surfaces, ringOf, run);
    SurfaceLayer& hidden = surfaces.hidden;
    const std::vector<Continued>& drawn = texture.draw();
    constexpr std::size_t chunk = 4096;
    parallelFor(static_cast<int>((drawn.size() + chunk - 1) / chunk), run, [&](int index) {
        const std::size_t first = static_cast<std::size_t>(index) * chunk;
        for (std::size_t i = first; i < std::min(first + chunk, drawn.size()); ++i) {
            const Continued& pixel = drawn[i];
            if (pixel.weight <= 0.0F) continue;
            Colour colour = pixel.sum;
            for (float& v : colour)
                v /= pixel.weight;
            typical.hold(colour, pixel.radius, pixel.place.x, pixel.place.y);
            setColour(hidden.colour, pixel.place.x, pixel.place.y, colour);
        }
    });
}

} // namespace retinex::defocus
