#include "core/defocus/hidden_texture.h"

#include "core/defocus/pixel_colour.h"

#include <array>
#include <cmath>
#include <numbers>
#include <optional>

namespace retinex::defocus {

namespace {

constexpr int kDirections = 32; ///< over half a turn
constexpr int kLongest = 48;    ///< px from the pixel to an end
constexpr int kAcross = 4;      ///< px to each side of a line's end that are compared

struct Step
{
    float x = 0.0F;
    float y = 0.0F;
};

const std::array<Step, kDirections>& directions()
{
    static const auto table = [] {
        std::array<Step, kDirections> steps{};
        for (int i = 0; i < kDirections; ++i) {
            const double angle = std::numbers::pi * i / kDirections;
            steps[static_cast<std::size_t>(i)] = {static_cast<float>(std::cos(angle)),
                                                  static_cast<float>(std::sin(angle))};
        }
        return steps;
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
    Texture(const Surfaces& surfaces, const Plane<int>& ringOf)
        : m_visible(surfaces.visible), m_hidden(surfaces.hidden), m_ringOf(ringOf)
    {
    }

    /// The colour at (x, y), not multiplied by evidence.
    [[nodiscard]] std::optional<Colour> at(int x, int y) const
    {
        std::array<Line, kDirections> lines{};
        std::size_t count = 0;
        float least = 1e30F;
        for (const Step& step : directions()) {
            const auto a = endOf(x, y, step);
            if (!a) continue;
            const auto b = endOf(x, y, {-step.x, -step.y});
            if (!b) continue;
            Line& line = lines[count++];
            line = {*a, *b, costOf(*a, *b, step)};
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
    static constexpr float kOfLength = 0.002F; ///< cost of a px of length

    struct Line
    {
        End a;
        End b;
        float cost = 0.0F;
    };

    /// Shows the surface whole, and so tells its colour.
    [[nodiscard]] bool isClean(int x, int y, float radius) const
    {
        return m_ringOf.contains(x, y) && m_ringOf.at(x, y) < 0 && m_visible.coverage.at(x, y) >= 1.0F &&
               !isEdge(m_visible.radiusPx.at(x, y), radius);
    }

    [[nodiscard]] std::optional<End> endOf(int x, int y, Step step) const
    {
        const float radius = m_hidden.radiusPx.at(x, y);
        for (int i = std::max(1, m_ringOf.at(x, y)); i <= kLongest; ++i) {
            const auto far = static_cast<float>(i);
            const int px = x + static_cast<int>(std::lround(far * step.x));
            const int py = y + static_cast<int>(std::lround(far * step.y));
            if (!m_ringOf.contains(px, py)) return std::nullopt;
            if (isClean(px, py, radius)) return End{px, py, far};
            // Through mixed pixels and what is covered, but through no other surface.
            if (m_ringOf.at(px, py) < 0 && m_visible.radiusPx.at(px, py) > radius) return std::nullopt;
        }
        return std::nullopt;
    }

    /// How unlike two ends look, across the line.
    [[nodiscard]] float costOf(const End& a, const End& b, Step step) const
    {
        const float radius = m_visible.radiusPx.at(a.x, a.y);
        float differ = 0.0F;
        float size = 1e-4F;
        for (int i = -kAcross; i <= kAcross; ++i) {
            const int dx = static_cast<int>(std::lround(-step.y * static_cast<float>(i)));
            const int dy = static_cast<int>(std::lround(step.x * static_cast<float>(i)));
            const bool clean = isClean(a.x + dx, a.y + dy, radius) && isClean(b.x + dx, b.y + dy, radius);
            if (!clean) continue;
            const Colour ca = colourAt(m_visible.colour, a.x + dx, a.y + dy);
            const Colour cb = colourAt(m_visible.colour, b.x + dx, b.y + dy);
            differ += distanceSquared(ca, cb);
            size += distanceSquared(ca, {}) + distanceSquared(cb, {});
        }
        return std::sqrt(differ / size) + kOfLength * (a.distance + b.distance);
    }

    const SurfaceLayer& m_visible;
    const SurfaceLayer& m_hidden;
    const Plane<int>& m_ringOf;
};

} // namespace

void drawHiddenTexture(Surfaces& surfaces, const Plane<int>& ringOf, const TypicalBrightness& typical,
                       const Run& run)
{
    const Texture texture(surfaces, ringOf);
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
