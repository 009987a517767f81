#include "core/defocus/hidden_texture.h"

#include "core/defocus/pixel_colour.h"

#include <array>
#include <cmath>
#include <numbers>
#include <optional>

namespace retinex::defocus {

namespace {

constexpr int kDirections = 16; ///< over half a turn
constexpr int kLongest = 48;    ///< px from the pixel to an end
constexpr int kAcross = 2;      ///< px to each side of a line's end that are compared

/// Stands for pixels that show no surface whole: lines go on through them.
constexpr float kCovered = -1e30F;

struct Offset
{
    int x = 0;
    int y = 0;
};

/// A line's pixels one after the other, to one side; the other side is the same, turned round.
struct Direction
{
    std::array<Offset, kLongest + 1> along;
    std::array<Offset, 2 * kAcross + 1> across;
};

const std::array<Direction, kDirections>& directions()
{
    static const auto table = [] {
        std::array<Direction, kDirections> made{};
        for (int i = 0; i < kDirections; ++i) {
            const double angle = std::numbers::pi * i / kDirections;
            const double c = std::cos(angle);
            const double s = std::sin(angle);
            Direction& direction = made[static_cast<std::size_t>(i)];
            for (int k = 0; k <= kLongest; ++k)
                direction.along[static_cast<std::size_t>(k)] = {static_cast<int>(std::lround(k * c)),
                                                                static_cast<int>(std::lround(k * s))};
            for (int k = -kAcross; k <= kAcross; ++k)
                direction.across[static_cast<std::size_t>(k + kAcross)] = {
                    static_cast<int>(std::lround(-k * s)), static_cast<int>(std::lround(k * c))};
        }
        return made;
    }();
    return table;
}

/// Where a line meets what is seen of the hidden surface.
struct End
{
    int x = 0;
    int y = 0;
    float distance = 0.0F;
};

class Texture
{
public:
    Texture(const Surfaces& surfaces, const Plane<int>& ringOf, const Run& run)
        : m_visible(surfaces.visible), m_hidden(surfaces.hidden), m_ringOf(ringOf),
          m_shown(ringOf.width(), ringOf.height())
    {
        parallelFor(ringOf.height(), run, [&](int y) {
            for (int x = 0; x < ringOf.width(); ++x) {
                const bool isClean = ringOf.at(x, y) < 0 && m_visible.coverage.at(x, y) >= 1.0F;
                m_shown.at(x, y) = isClean ? m_visible.radiusPx.at(x, y) : kCovered;
            }
        });
    }

    /// The colour at (x, y), not multiplied by evidence.
    [[nodiscard]] std::optional<Colour> at(int x, int y) const
    {
        std::array<Line, kDirections> lines{};
        std::size_t count = 0;
        float least = 1e30F;
        for (const Direction& direction : directions()) {
            const auto a = endOf(x, y, direction, 1);
            if (!a) continue;
            const auto b = endOf(x, y, direction, -1);
            if (!b) continue;
            Line& line = lines[count++];
            line = {*a, *b, costOf(*a, *b, direction)};
            least = std::min(least, line.cost);
        }
        if (count == 0) return std::nullopt;
        Colour sum{};
        float weights = 0.0F;
        for (std::size_t i = 0; i < count; ++i) {
            const Line& line = lines[i];
            const float length = line.a.distance + line.b.distance;
            const float weight = std::exp(-kSharpness * (line.cost - least)) / length;
            const Colour ca = colourAt(m_visible.colour, line.a.x, line.a.y);
            const Colour cb = colourAt(m_visible.colour, line.b.x, line.b.y);
            for (std::size_t c = 0; c < sum.size(); ++c)
                sum[c] += weight * (line.b.distance * ca[c] + line.a.distance * cb[c]) / length;
            weights += weight;
        }
        for (float& v : sum)
            v /= weights;
        return sum;
    }

private:
    static constexpr float kSharpness = 30.0F;
    static constexpr float kOfLength = 0.004F; ///< cost of a px of length

    struct Line
    {
        End a;
        End b;
        float cost = 0.0F;
    };

    [[nodiscard]] std::optional<End> endOf(int x, int y, const Direction& direction, int sign) const
    {
        const float radius = m_hidden.radiusPx.at(x, y);
        // Rings are steps to the rim: as many can be skipped.
        for (int i = std::max(1, m_ringOf.at(x, y)); i <= kLongest;) {
            const Offset& step = direction.along[static_cast<std::size_t>(i)];
            const int px = x + sign * step.x;
            const int py = y + sign * step.y;
            if (!m_shown.contains(px, py)) return std::nullopt;
            const float shown = m_shown.at(px, py);
            if (shown == kCovered) {
                i += std::max(1, m_ringOf.at(px, py));
                continue;
            }
            // Another surface: in front, it is too wide to look behind; farther off, this one has ended
            // before.
            if (isEdge(shown, radius)) return std::nullopt;
            return End{px, py, static_cast<float>(i)};
        }
        return std::nullopt;
    }

    /// How unlike two ends look, across the line.
    [[nodiscard]] float costOf(const End& a, const End& b, const Direction& direction) const
    {
        const float radius = m_shown.at(a.x, a.y);
        const auto tells = [&](int x, int y) {
            return m_shown.contains(x, y) && m_shown.at(x, y) != kCovered &&
                   !isEdge(m_shown.at(x, y), radius);
        };
        float differ = 0.0F;
        float size = 1e-4F;
        for (const Offset& step : direction.across) {
            if (!tells(a.x + step.x, a.y + step.y) || !tells(b.x + step.x, b.y + step.y)) continue;
            const Colour ca = colourAt(m_visible.colour, a.x + step.x, a.y + step.y);
            const Colour cb = colourAt(m_visible.colour, b.x + step.x, b.y + step.y);
            differ += distanceSquared(ca, cb);
            size += distanceSquared(ca, {}) + distanceSquared(cb, {});
        }
        return std::sqrt(differ / size) + kOfLength * (a.distance + b.distance);
    }

    const SurfaceLayer& m_visible;
    const SurfaceLayer& m_hidden;
    const Plane<int>& m_ringOf;
    Plane<float> m_shown; ///< radius of pixels that show a surface whole, else kCovered
};

} // namespace

void drawHiddenTexture(Surfaces& surfaces, const Plane<int>& ringOf, const TypicalBrightness& typical,
                       const Run& run)
{
    const Texture texture(surfaces, ringOf, run);
    SurfaceLayer& hidden = surfaces.hidden;
    parallelFor(ringOf.height(), run, [&](int y) {
        for (int x = 0; x < ringOf.width(); ++x) {
            if (ringOf.at(x, y) <= 0) continue;
            auto colour = texture.at(x, y);
            if (!colour) continue;
            typical.hold(*colour, hidden.radiusPx.at(x, y), x, y);
            setColour(hidden.colour, x, y, *colour);
        }
    });
}

} // namespace retinex::defocus
