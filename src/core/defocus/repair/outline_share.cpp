#include "core/defocus/repair/outline_share.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace retinex::defocus {

namespace {

constexpr int kFarthest = 6; ///< px along the outline to each side
/// With a larger spread nothing is told but that there is an edge.
constexpr float kUncertain = 0.12F;
/// How much farther shares stray where the outline is curved.
constexpr float kCurvedSpread = 0.08F;

/// Mean of v held to 0..1 over v from a to b.
float meanHeld(float a, float b)
{
    const auto sum = [](float v) { return v <= 0.0F ? 0.0F : v >= 1.0F ? v - 0.5F : 0.5F * v * v; };
    return std::abs(b - a) < 1e-4F ? std::clamp(0.5F * (a + b), 0.0F, 1.0F) : (sum(b) - sum(a)) / (b - a);
}

/// The straight lines that run between the pixels of an outline, column by column: in each the line passes
/// the column's middle between the middle of its last pixel on this side, `from`, and that of the next.
class Lines
{
public:
    /// Narrows the lines down to those that pass there as well; false, and nothing changed, when none does.
    bool add(int column, int from)
    {
        const auto itsColumn = static_cast<float>(column);
        const auto itsFrom = static_cast<float>(from);
        Lanes least = lanesOf(m_least);
        Lanes most = lanesOf(m_most);
        for (std::size_t group = 0; group * kLanes < m_count; ++group) {
            const Lanes perColumn = 1.0F / (itsColumn - m_columns[group]);
            const Lanes up = itsFrom - m_froms[group];
            const Lanes one = (up - 1.0F) * perColumn;
            const Lanes other = (up + 1.0F) * perColumn;
            least = larger(least, one < other ? one : other);
            most = smaller(most, one < other ? other : one);
        }
        const float leastOfAll = std::max(std::max(least[0], least[1]), std::max(least[2], least[3]));
        const float mostOfAll = std::min(std::min(most[0], most[1]), std::min(most[2], most[3]));
        if (leastOfAll >= mostOfAll) return false;
        m_least = leastOfAll;
        m_most = mostOfAll;
        const std::size_t group = m_count / kLanes;
        const std::size_t lane = m_count % kLanes;
        if (lane == 0) { // lanes that are not used yet say the same again
            m_columns[group] = lanesOf(itsColumn);
            m_froms[group] = lanesOf(itsFrom);
        }
        m_columns[group][lane] = itsColumn;
        m_froms[group][lane] = itsFrom;
        ++m_count;
        return true;
    }
    /// Those through the first `count` places, of an outline that is straight no farther than for twice as
    /// many: the longest lines of it all lean to one side.
    [[nodiscard]] Lines ofCurved(std::size_t count) const
    {
        Lines lines;
        lines.m_isCurved = true;
        for (std::size_t i = 0; i < count; ++i)
            (void)lines.add(static_cast<int>(columnAt(i)), static_cast<int>(fromAt(i)));
        return lines;
    }
    [[nodiscard]] bool isCurved() const { return m_isCurved; }
    [[nodiscard]] std::size_t count() const { return m_count; }

    /// What the lines leave of the pixel (0, 0) on this side.
    [[nodiscard]] OutlineShare left() const
    {
        const float slope = 0.5F * (m_least + m_most);
        float low = -1e9F; // of the line in column 0
        float high = 1e9F;
        for (std::size_t i = 0; i < m_count; ++i) {
            const float at = fromAt(i) - slope * columnAt(i);
            low = std::max(low, at);
            high = std::min(high, at + 1.0F);
        }
        constexpr int places = 4;
        OutlineShare mean;
        float squares = 0.0F;
        for (int i = 0; i < places; ++i) {
            const float at = low + (high - low) * (static_cast<float>(i) + 0.5F) / places + 0.5F;
            const float share = meanHeld(at - 0.5F * slope, at + 0.5F * slope);
            mean.share += share / places;
            squares += share * share / places;
        }
        mean.spread = std::sqrt(std::max(0.0F, squares - mean.share * mean.share));
        return mean;
    }

private:
    static constexpr std::size_t kLanes = 4;
    using Lanes [[gnu::vector_size(sizeof(float) * kLanes)]] = float; ///< as every processor has them
    static Lanes lanesOf(float value) { return Lanes{} + value; }
    static Lanes larger(Lanes a, Lanes b) { return a > b ? a : b; }
    static Lanes smaller(Lanes a, Lanes b) { return a < b ? a : b; }
    static constexpr std::size_t kGroups = (2 * kFarthest + 1 + kLanes - 1) / kLanes;

    [[nodiscard]] float columnAt(std::size_t place) const
    {
        return m_columns[place / kLanes][place % kLanes];
    }
    [[nodiscard]] float fromAt(std::size_t place) const { return m_froms[place / kLanes][place % kLanes]; }

    // The first m_count places, in groups.
    std::array<Lanes, kGroups> m_columns{};
    std::array<Lanes, kGroups> m_froms{};
    std::size_t m_count = 0;
    bool m_isCurved = false;
    float m_least = -2.0F; ///< slope
    float m_most = 2.0F;
};

class Outline
{
public:
    Outline(const Plane<float>& radius, const TwoSurfaces& surfaces, int x, int y)
        : m_radius(radius), m_surfaces(surfaces), m_x(x), m_y(y), m_here(radius.row(y) + x),
          m_isInside(x > kFarthest && y > kFarthest && x < radius.width() - 1 - kFarthest &&
                     y < radius.height() - 1 - kFarthest),
          m_isNear(surfaces.liesNear(*m_here))
    {
    }

    [[nodiscard]] bool isNear() const { return m_isNear; }

    /// Whether the pixel `along` px on (axis 0: in x) and `across` px aside shows the other surface; beyond
    /// the picture as at its edge.
    [[nodiscard]] bool isOther(int axis, int along, int across) const
    {
        const int right = axis == 0 ? along : across;
        const int down = axis == 0 ? across : along;
        const float its = m_isInside ? m_here[down * m_radius.width() + right]
                                     : m_radius.at(std::clamp(m_x + right, 0, m_radius.width() - 1),
                                                   std::clamp(m_y + down, 0, m_radius.height() - 1));
        return m_surfaces.liesNear(its) != m_isNear;
    }

    /// The lines along the axis, with the other surface on that side of the pixel.
    [[nodiscard]] Lines linesAlong(int axis, int side) const
    {
        Lines lines;
        (void)lines.add(0, 0);
        std::array<int, 2> from{};
        std::array<bool, 2> goesOn{true, true};
        std::array<std::size_t, kFarthest + 1> counts{1}; ///< of places within so many px to each side
        for (std::size_t i = 1; i <= kFarthest && (goesOn[0] || goesOn[1]); ++i) {
            for (const std::size_t way : {0U, 1U}) {
                const int column = way == 0 ? -static_cast<int>(i) : static_cast<int>(i);
                goesOn[way] = goesOn[way] && follow(axis, column, side, from[way]);
                if (goesOn[way] && !lines.add(column, from[way])) return lines.ofCurved(counts[i / 2]);
            }
            counts[i] = lines.count();
        }
        return lines;
    }

private:
    /// From one column to the next the outline goes on by one pixel at most: else it is a corner, or steep.
    [[nodiscard]] bool follow(int axis, int column, int side, int& from) const
    {
        const auto other = [&](int at) { return isOther(axis, column, side * at); };
        if (other(from)) {
            if (other(from + 1) && !other(from - 1)) {
                --from;
                return true;
            }
            return false;
        }
        if (!other(from + 1)) {
            ++from;
            return other(from + 1);
        }
        return true;
    }

    const Plane<float>& m_radius;
    const TwoSurfaces& m_surfaces;
    int m_x;
    int m_y;
    const float* m_here;
    bool m_isInside; ///< all that is looked at lies in the picture
    bool m_isNear;
};

} // namespace

std::optional<OutlineShare> shareByOutline(const Plane<float>& radius, const TwoSurfaces& surfaces, int x,
                                           int y)
{
    const Outline outline(radius, surfaces, x, y);
    std::optional<Lines> best;
    for (const int axis : {0, 1}) {
        const bool before = outline.isOther(axis, 0, -1);
        const bool behind = outline.isOther(axis, 0, 1);
        if (before && behind) return std::nullopt;
        if (!before && !behind) continue;
        const Lines lines = outline.linesAlong(axis, before ? -1 : 1);
        if (!best || lines.count() > best->count()) best = lines;
    }
    OutlineShare own{1.0F, 0.0F};
    if (best) {
        if (best->count() < 3) return std::nullopt;
        own = best->left();
        if (own.spread > kUncertain) return std::nullopt;
        if (best->isCurved()) own.spread += kCurvedSpread;
    }
    if (!outline.isNear()) own.share = 1.0F - own.share;
    return own;
}

} // namespace retinex::defocus
