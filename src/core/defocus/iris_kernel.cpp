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

/// Where the horizontal line at `y` crosses a convex outline; false when it misses.
bool crossing(const std::vector<optics::Point>& outline, double y, Span& span)
{
    bool hit = false;
    for (std::size_t i = 0; i < outline.size(); ++i) {
        const optics::Point& a = outline[i];
        const optics::Point& b = outline[(i + 1) % outline.size()];
        if ((a.y > y) == (b.y > y))
            continue;
        const double x = a.x + (y - a.y) / (b.y - a.y) * (b.x - a.x);
        span = hit ? Span{std::min(span.lo, x), std::max(span.hi, x)} : Span{x, x};
        hit = true;
    }
    return hit;
}

std::vector<IrisKernel::RowSpan> rowSpans(const std::vector<optics::Point>& outline, double radius,
                                          double widthScale)
{
    std::vector<IrisKernel::RowSpan> rows;
    const int reach = static_cast<int>(std::ceil(radius * 1.6)) + 1;
    double mass = 0.0;
    for (int dy = -reach; dy <= reach; ++dy) {
        double lo = 0.0;
        double hi = 0.0;
        double length = 0.0;
        int hits = 0;
        for (int sub = 0; sub < kSubRows; ++sub) {
            Span span;
            const double y = dy - 0.5 + (sub + 0.5) / kSubRows;
            if (!crossing(outline, y / radius, span))
                continue;
            const double span_lo = span.lo * radius * widthScale;
            const double span_hi = span.hi * radius * widthScale;
            const double weight = span_hi - span_lo;
            lo += span_lo * weight; // longer sub-rows decide where the row lies
            hi += span_hi * weight;
            length += weight;
            ++hits;
        }
        if (hits == 0 || length <= 0.0)
            continue;
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

/// Vertical variance of the continuous outline, in units of radius^2.
double idealVariance(const std::vector<optics::Point>& outline)
{
    constexpr double fine = 400.0;
    return verticalVariance(rowSpans(outline, fine, 1.0)) / (fine * fine);
}

} // namespace

IrisKernel::IrisKernel(const optics::Iris& iris, double radiusPx, double widthScale)
{
    const auto outline = optics::irisOutline(iris, radiusPx < 0.0);
    const double radius = std::abs(radiusPx);
    if (radius <= 0.0) {
        m_rows.push_back({0, -0.5, 0.5, 1.0});
    } else {
        addRows(outline, radius, widthScale);
    }
    for (const RowSpan& row : m_rows) {
        m_reachX = std::max(m_reachX, static_cast<int>(std::ceil(std::max(-row.lo, row.hi) - 0.5)));
        m_reachY = std::max(m_reachY, std::abs(row.dy));
    }
    buildEdgeTables();
}

void IrisKernel::addRows(const std::vector<optics::Point>& outline, double radius, double widthScale)
{
    double effective = radius;
    if (radius < 16.0) { // beyond, a pixel's own width no longer matters (below 0.2 % of the radius)
        const double target = idealVariance(outline) * radius * radius;
        double low = 0.25;
        double high = radius + 1.0;
        for (int i = 0; i < 40; ++i) {
            effective = 0.5 * (low + high);
            (verticalVariance(rowSpans(outline, effective, 1.0)) < target ? low : high) = effective;
        }
    }
    m_rows = rowSpans(outline, effective, widthScale);
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
    if (distance > m_reachX)
        return 0.0;
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
