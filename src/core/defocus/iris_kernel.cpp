#include "core/defocus/iris_kernel.h"

#include <algorithm>
#include <cmath>

namespace retinex::defocus {

namespace {

constexpr int kSubRows = 16;

struct Span
{
    double lo = 0.0;
    double hi = 0.0;
};

/// The opening as the kernel needs it, in units of the radius.
class Opening
{
public:
    Opening(const optics::Iris& iris, bool turnedOver)
        : m_reach(optics::irisReach(iris)), m_isCircle(iris.blades == 0),
          m_outline(m_isCircle ? std::vector<optics::Point>{} : optics::irisOutline(iris, turnedOver))
    {
    }

    /// Where the horizontal line at `y` crosses the outline, which is convex; false when it misses.
    [[nodiscard]] bool crossing(double y, Span& span) const
    {
        if (m_isCircle) {
            const double square = 1.0 - y * y;
            span = {-std::sqrt(std::max(square, 0.0)), std::sqrt(std::max(square, 0.0))};
            return square > 0.0;
        }
        bool hit = false;
        for (std::size_t i = 0; i < m_outline.size(); ++i) {
            const optics::Point& a = m_outline[i];
            const optics::Point& b = m_outline[(i + 1) % m_outline.size()];
            if ((a.y > y) == (b.y > y)) continue;
            const double x = a.x + (y - a.y) / (b.y - a.y) * (b.x - a.x);
            span = hit ? Span{std::min(span.lo, x), std::max(span.hi, x)} : Span{x, x};
            hit = true;
        }
        return hit;
    }

    /// Mean of y^2 over the area: 1/4 for a circle; for a polygon about its centre the sum over its triangles
    /// of (a^2 + a b + b^2) / 6, weighted by their areas (second moment of area of a polygon).
    [[nodiscard]] double verticalVariance() const
    {
        if (m_isCircle) return 0.25;
        double moment = 0.0;
        double area = 0.0;
        for (std::size_t i = 0; i < m_outline.size(); ++i) {
            const optics::Point& a = m_outline[i];
            const optics::Point& b = m_outline[(i + 1) % m_outline.size()];
            const double triangle = 0.5 * (a.x * b.y - b.x * a.y);
            moment += triangle * (a.y * a.y + a.y * b.y + b.y * b.y) / 6.0;
            area += triangle;
        }
        return moment / area;
    }

    /// Largest distance of the outline from its centre.
    [[nodiscard]] double reach() const noexcept { return m_reach; }

private:
    double m_reach;
    bool m_isCircle;
    std::vector<optics::Point> m_outline;
};

std::vector<IrisKernel::RowSpan> rowSpans(const Opening& opening, double radius, double widthScale)
{
    std::vector<IrisKernel::RowSpan> rows;
    const int reach = static_cast<int>(std::ceil(radius * opening.reach())) + 1;
    double mass = 0.0;
    for (int dy = -reach; dy <= reach; ++dy) {
        double lo = 0.0;
        double hi = 0.0;
        double length = 0.0;
        int hits = 0;
        for (int sub = 0; sub < kSubRows; ++sub) {
            Span span;
            const double y = dy - 0.5 + (sub + 0.5) / kSubRows;
            if (!opening.crossing(y / radius, span)) continue;
            const double left = span.lo * radius * widthScale;
            const double right = span.hi * radius * widthScale;
            const double weight = right - left;
            lo += left * weight; // longer sub-rows decide where the row lies
            hi += right * weight;
            length += weight;
            ++hits;
        }
        if (hits == 0 || length <= 0.0) continue;
        IrisKernel::RowSpan row{dy, lo / length, hi / length, 0.0};
        const double rowMass = length / kSubRows;
        row.weight = rowMass / (row.hi - row.lo);
        mass += rowMass;
        rows.push_back(row);
    }
    for (auto& row : rows)
        row.weight /= mass;
    return rows;
}

/// Vertical variance of the kernel about its own mean; rows are whole pixels.
double verticalVariance(const std::vector<IrisKernel::RowSpan>& rows)
{
    double mean = 0.0;
    double square = 0.0;
    for (const auto& row : rows) {
        const double mass = row.weight * (row.hi - row.lo);
        mean += mass * row.dy;
        square += mass * row.dy * row.dy;
    }
    return square - mean * mean;
}

/// The radius whose discrete kernel has the variance of the ideal disc.
double effectiveRadius(const Opening& opening, double radius)
{
    if (radius >= 16.0) // beyond, a pixel's own width no longer matters (below 0.2 % of the radius)
        return radius;
    const double target = opening.verticalVariance() * radius * radius;
    double low = 0.25;
    double high = radius + 1.0;
    for (int i = 0; i < 24; ++i) {
        const double middle = 0.5 * (low + high);
        (verticalVariance(rowSpans(opening, middle, 1.0)) < target ? low : high) = middle;
    }
    return 0.5 * (low + high);
}

} // namespace

IrisKernel::IrisKernel(const optics::Iris& iris, double radiusPx, double widthScale)
{
    const double radius = std::abs(radiusPx);
    if (radius <= 0.0) {
        m_rows.push_back({0, -0.5, 0.5, 1.0});
    } else {
        const Opening opening(iris, radiusPx < 0.0);
        m_rows = rowSpans(opening, effectiveRadius(opening, radius), widthScale);
    }
    for (const RowSpan& row : m_rows) {
        m_reachX = std::max(m_reachX, static_cast<int>(std::ceil(std::max(-row.lo, row.hi) - 0.5)));
        m_reachY = std::max(m_reachY, std::abs(row.dy));
    }
    buildEdgeTables();
}

void IrisKernel::buildEdgeTables()
{
    const std::size_t rows = m_rows.size();
    m_rowMass.assign(rows + 1, 0.0);
    for (std::size_t i = 0; i < rows; ++i)
        m_rowMass[i + 1] = m_rowMass[i] + m_rows[i].weight * (m_rows[i].hi - m_rows[i].lo);
    const auto distances = static_cast<std::size_t>(m_reachX) + 1;
    m_leftCut.assign(distances * (rows + 1), 0.0);
    m_rightCut = m_leftCut;
    for (std::size_t d = 0; d < distances; ++d) {
        // The frame ends d + 1/2 px from the pixel's centre; sources beyond would have reached it.
        const double edge = static_cast<double>(d) + 0.5;
        for (std::size_t i = 0; i < rows; ++i) {
            const RowSpan& row = m_rows[i];
            const double left = std::max(0.0, row.hi - std::max(edge, row.lo));
            const double right = std::max(0.0, std::min(-edge, row.hi) - row.lo);
            const std::size_t at = d * (rows + 1) + i;
            m_leftCut[at + 1] = m_leftCut[at] + row.weight * left;
            m_rightCut[at + 1] = m_rightCut[at] + row.weight * right;
        }
    }
}

double IrisKernel::cutShare(const std::vector<double>& table, int distance, int firstRow,
                            int endRow) const noexcept
{
    if (distance > m_reachX) return 0.0;
    const std::size_t base = static_cast<std::size_t>(distance) * (m_rows.size() + 1);
    return table[base + static_cast<std::size_t>(endRow)] - table[base + static_cast<std::size_t>(firstRow)];
}

double IrisKernel::massInside(int x, int y, int width, int height) const noexcept
{
    // A source row y - dy must lie in the frame: dy in (y - height, y]. Rows are contiguous in dy.
    const int rows = static_cast<int>(m_rows.size());
    const int firstDy = m_rows.front().dy;
    const int first = std::clamp(y - height + 1 - firstDy, 0, rows);
    const int end = std::clamp(y + 1 - firstDy, first, rows);
    const double mass = m_rowMass[static_cast<std::size_t>(end)] - m_rowMass[static_cast<std::size_t>(first)];
    return mass - cutShare(m_leftCut, x, first, end) - cutShare(m_rightCut, width - 1 - x, first, end);
}

} // namespace retinex::defocus
