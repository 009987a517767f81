#include "core/defocus/hidden/outline_ends.h"

#include <algorithm>
#include <optional>
#include <utility>

namespace retinex::defocus {

namespace {

constexpr int kReach = 10;            ///< px of the outline that are looked at
constexpr int kMixed = 3;             ///< mixed pixels that may stand between its two sides
constexpr std::size_t kFewest = 8;    ///< pairs of pixels on both sides of it
constexpr float kStraight = 0.35F;    ///< px that they stray from a straight line
constexpr float kAside = 1.0F;        ///< px that the end may lie beside it
constexpr float kBack = 2.0F;         ///< px that the middle of them lies before the end
constexpr float kDiffer = 0.3F;       ///< share of their brightness by which two colours differ at least
constexpr float kGoesOn = 1.0F;       ///< of the length that it is seen for, how far it is taken to go on
constexpr float kFarthest = 32.0F;    ///< px, at most
constexpr float kColourGoesOn = 0.3F; ///< and an edge between two colours
constexpr float kAlike = 0.4F; ///< share of the way to the other side's colour that one side's may stray

/// What the pixels near an end show of the outline that ends there.
class Outline
{
public:
    Outline(const Surfaces& surfaces, const Rings& rings, const OutlineEnd::Side& a,
            const OutlineEnd::Side& b, int dx, int dy)
        : m_visible(surfaces.visible), m_rings(rings), m_sideA(a), m_sideB(b), m_dx(dx), m_dy(dy),
          m_isOfColour(!isEdge(a.radius, b.radius)), m_apart(distanceSquared(a.colour, b.colour))
    {
    }

    /// Of the outline that ends between the pixel of side a and that of side b.
    std::optional<OutlineEnd> endAt(int px, int py)
    {
        const float x = static_cast<float>(px) + 0.5F * static_cast<float>(m_dx);
        const float y = static_cast<float>(py) + 0.5F * static_cast<float>(m_dy);
        around(m_visible.coverage, px, py, kReach, [&](int ax, int ay) {
            if (!shows(ax, ay, m_sideA)) return;
            for (const auto& [dx, dy] : {std::pair{1, 0}, {-1, 0}, {0, 1}, {0, -1}}) {
                if (dx * m_dx + dy * m_dy <= 0) continue; // another outline, of a thin thing
                for (int step = 1; step <= kMixed + 1; ++step) {
                    const int bx = ax + step * dx;
                    const int by = ay + step * dy;
                    if (!m_visible.coverage.contains(bx, by)) break;
                    if (shows(bx, by, m_sideB)) {
                        add(ax, ay, bx, by, x, y);
                        break;
                    }
                    if (m_isOfColour ? shows(bx, by, m_sideA) : isShown(bx, by)) break;
                }
            }
        });
        if (m_pairs.size() < kFewest) return std::nullopt;
        keepOneLine();
        if (m_pairs.size() < kFewest) return std::nullopt;
        return fitted(x, y);
    }

private:
    /// A pixel of each side, and the middle between them, px from the end.
    struct Pair
    {
        PixelPlace a, b;
        float x, y;
    };

    [[nodiscard]] bool isShown(int x, int y) const { return isShownWhole(m_visible, m_rings, x, y); }
    [[nodiscard]] bool shows(int x, int y, const OutlineEnd::Side& side) const
    {
        if (!isShown(x, y) || isEdge(m_visible.radiusPx.at(x, y), side.radius)) return false;
        return !m_isOfColour ||
               distanceSquared(colourAt(m_visible.colour, x, y), side.colour) < kAlike * kAlike * m_apart;
    }
    /// How many steps a side goes on from a pixel of it until something else shows.
    [[nodiscard]] int wide(int x, int y, int dx, int dy, const OutlineEnd::Side& side) const
    {
        int hidden = 0; // or mixed, in a row
        for (int i = 1; i <= kWidestSide && hidden <= kMixed; ++i) {
            const int sx = x + i * dx;
            const int sy = y + i * dy;
            if (!m_visible.coverage.contains(sx, sy)) break;
            if (!isShown(sx, sy))
                ++hidden;
            else if (shows(sx, sy, side))
                hidden = 0;
            else
                return i - 1;
        }
        return kWidestSide;
    }
    void add(int ax, int ay, int bx, int by, float x, float y)
    {
        m_pairs.push_back({{ax, ay},
                           {bx, by},
                           0.5F * static_cast<float>(ax + bx) - x,
                           0.5F * static_cast<float>(ay + by) - y});
    }
    /// Leaves those pairs that lie on one line from the end, of all such lines the one with the most.
    void keepOneLine()
    {
        constexpr float shortest = 3.0F; // px: nearer pairs tell no direction
        std::size_t most = 0;
        std::vector<Pair> best;
        std::vector<Pair> line;
        for (const Pair& towards : m_pairs) {
            const float length = std::hypot(towards.x, towards.y);
            if (length < shortest) continue;
            line.clear();
            for (const Pair& pair : m_pairs) {
                const float aside = (pair.y * towards.x - pair.x * towards.y) / length;
                const float along = (pair.x * towards.x + pair.y * towards.y) / length;
                if (std::abs(aside) <= kAside && along > -kAside) line.push_back(pair);
            }
            if (line.size() <= most) continue;
            most = line.size();
            best.swap(line);
        }
        m_pairs.swap(best);
    }
    /// What the pairs show on their two sides.
    void findSides(OutlineEnd& end) const
    {
        const auto count = static_cast<float>(m_pairs.size());
        OutlineEnd::Side a{m_sideA.radius};
        OutlineEnd::Side b{m_sideB.radius};
        float acrossX = 0.0F; // from b to a
        float acrossY = 0.0F;
        for (const Pair& pair : m_pairs) {
            const int dx = (pair.a.x > pair.b.x) - (pair.a.x < pair.b.x);
            const int dy = (pair.a.y > pair.b.y) - (pair.a.y < pair.b.y);
            a.wide += static_cast<float>(wide(pair.a.x, pair.a.y, dx, dy, m_sideA));
            b.wide += static_cast<float>(wide(pair.b.x, pair.b.y, -dx, -dy, m_sideB));
            acrossX += static_cast<float>(pair.a.x - pair.b.x);
            acrossY += static_cast<float>(pair.a.y - pair.b.y);
            const Colour ofA = colourAt(m_visible.colour, pair.a.x, pair.a.y);
            const Colour ofB = colourAt(m_visible.colour, pair.b.x, pair.b.y);
            for (std::size_t c = 0; c < ofA.size(); ++c) {
                a.colour[c] += ofA[c];
                b.colour[c] += ofB[c];
            }
        }
        // Counted along rows and columns, hardly ever along those that the outline itself runs along.
        const float slant = std::max(std::abs(end.alongX), std::abs(end.alongY));
        for (auto* side : {&a, &b}) {
            side->wide = 1.0F + slant * side->wide / count;
            for (float& v : side->colour)
                v /= count;
        }
        const bool isALeft = -end.alongY * acrossX + end.alongX * acrossY > 0.0F;
        end.left = isALeft ? a : b;
        end.right = isALeft ? b : a;
    }
    /// px that an outline is seen before its end, both sides of it.
    [[nodiscard]] float seenLength(const OutlineEnd& end) const
    {
        constexpr float aside = 2.0F; // px from its middle
        const auto showsAt = [&](float back, float across, const OutlineEnd::Side& side,
                                 const OutlineEnd::Side& other) {
            const int x = static_cast<int>(std::lround(end.x - back * end.alongX - across * end.alongY));
            const int y = static_cast<int>(std::lround(end.y - back * end.alongY + across * end.alongX));
            if (!m_visible.coverage.contains(x, y) || !isShown(x, y)) return false;
            if (isEdge(m_visible.radiusPx.at(x, y), side.radius)) return false;
            if (!m_isOfColour) return true;
            const Colour its = colourAt(m_visible.colour, x, y);
            return distanceSquared(its, side.colour) < distanceSquared(its, other.colour);
        };
        constexpr int longest = 64; // px
        int seen = 0;
        for (int back = 1; back <= longest && back - seen <= 1 + kMixed; ++back) {
            const auto at = static_cast<float>(back);
            if (showsAt(at, aside, end.left, end.right) && showsAt(at, -aside, end.right, end.left))
                seen = back;
        }
        return static_cast<float>(seen);
    }
    /// The straight line that the pairs stray least from, if it leads to the end.
    [[nodiscard]] std::optional<OutlineEnd> fitted(float x, float y) const
    {
        const auto count = static_cast<float>(m_pairs.size());
        float mx = 0.0F;
        float my = 0.0F;
        float xx = 0.0F;
        float xy = 0.0F;
        float yy = 0.0F;
        for (const Pair& pair : m_pairs) {
            xx += pair.x * pair.x;
            xy += pair.x * pair.y;
            yy += pair.y * pair.y;
            mx += pair.x;
            my += pair.y;
        }
        mx /= count;
        my /= count;
        xx = xx / count - mx * mx;
        xy = xy / count - mx * my;
        yy = yy / count - my * my;
        const float angle = 0.5F * std::atan2(2.0F * xy, xx - yy);
        OutlineEnd end;
        end.alongX = std::cos(angle);
        end.alongY = std::sin(angle);
        const float strays =
            end.alongY * end.alongY * xx - 2.0F * end.alongX * end.alongY * xy + end.alongX * end.alongX * yy;
        const float back = mx * end.alongX + my * end.alongY;
        if (strays > kStraight * kStraight || std::abs(back) < kBack) return std::nullopt;
        const float aside = -mx * end.alongY + my * end.alongX;
        if (std::abs(aside) > kAside) return std::nullopt;
        end.x = x - aside * end.alongY;
        end.y = y + aside * end.alongX;
        if (back > 0.0F) {
            end.alongX = -end.alongX;
            end.alongY = -end.alongY;
        }
        end.isOfColour = m_isOfColour;
        findSides(end);
        end.reach = std::min(kFarthest, (m_isOfColour ? kColourGoesOn : kGoesOn) * seenLength(end));
        return end;
    }

    const SurfaceLayer& m_visible;
    const Rings& m_rings;
    OutlineEnd::Side m_sideA;
    OutlineEnd::Side m_sideB;
    int m_dx, m_dy; ///< from a to b
    bool m_isOfColour;
    float m_apart; ///< the two colours, squared
    std::vector<Pair> m_pairs;
};

/// Whether two colours are so far apart that an outline between them can be told.
bool differ(const Colour& a, const Colour& b)
{
    return coloursDiffer(a, b, kDiffer, 0.0F);
}

} // namespace

std::vector<OutlineEnd> findOutlineEnds(const Surfaces& surfaces, const Rings& rings, const Run& run)
{
    const int width = rings.width();
    const int height = rings.height();
    std::vector<std::vector<OutlineEnd>> rows(static_cast<std::size_t>(height));
    // The first of the hidden layer: known from mixed pixels, or come there from one.
    const auto isRim = [&](int x, int y) { return rings.has(x, y) && !rings.isGrown(x, y); };
    const SurfaceLayer& hidden = surfaces.hidden;
    // How far apart two pixels of the rim are in colour, squared.
    const auto contrast = [&](int ax, int ay, int bx, int by) {
        if (!rings.contains(ax, ay) || !rings.contains(bx, by) || !isRim(ax, ay) || !isRim(bx, by))
            return 0.0F;
        return distanceSquared(colourAt(hidden.colour, ax, ay), colourAt(hidden.colour, bx, by));
    };
    // Whether the contrast is the largest of those across the same edge: the others would tell the same end.
    const auto isLargest = [&](int x, int y, int dx, int dy) {
        const int alongX = std::abs(dx) > 1 ? std::clamp(dx, -1, 1) : 0;
        const int alongY = std::abs(dy) > 1 ? std::clamp(dy, -1, 1) : 0;
        const auto at = [&](int i) {
            return contrast(x + i * alongX, y + i * alongY, x + dx + i * alongX, y + dy + i * alongY);
        };
        return at(0) >= at(-1) && at(0) > at(1);
    };
    parallelFor(height, run, [&](int y) {
        for (int x = 0; x < width; ++x) {
            if (!isRim(x, y)) continue;
            const OutlineEnd::Side side{hidden.radiusPx.at(x, y), colourAt(hidden.colour, x, y)};
            const auto look = [&](int dx, int dy, bool ofColour) {
                const int bx = x + dx;
                const int by = y + dy;
                if (!rings.contains(bx, by) || !isRim(bx, by)) return;
                const OutlineEnd::Side other{hidden.radiusPx.at(bx, by), colourAt(hidden.colour, bx, by)};
                if (isEdge(side.radius, other.radius) == ofColour) return;
                if (isEdge(surfaces.visible.radiusPx.at(x, y), surfaces.visible.radiusPx.at(bx, by))) return;
                if (ofColour && (!differ(side.colour, other.colour) || !isLargest(x, y, dx, dy))) return;
                run.throwIfStopped(); // a row may be full of them
                Outline outline(surfaces, rings, side, other, dx, dy);
                if (const auto end = outline.endAt(x, y)) rows[static_cast<std::size_t>(y)].push_back(*end);
            };
            for (const auto& [dx, dy] : {std::pair{1, 0}, {0, 1}, {1, 1}, {-1, 1}})
                look(dx, dy, false);
            // Beyond the mixed pixels of a colour edge.
            for (const auto& [dx, dy] :
                 {std::pair{3, 0}, {0, 3}, {2, 2}, {-2, 2}, {3, 1}, {1, 3}, {-3, 1}, {-1, 3}})
                look(dx, dy, true);
        }
    });
    std::vector<OutlineEnd> ends;
    for (const auto& row : rows)
        ends.insert(ends.end(), row.begin(), row.end());
    return ends;
}

} // namespace retinex::defocus
