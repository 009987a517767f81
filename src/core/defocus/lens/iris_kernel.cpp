#include "core/defocus/lens/iris_kernel.h"

#include <algorithm>
#include <cmath>

namespace retinex::defocus {

namespace {

constexpr int kSubRows = 16;
using RowSpan = IrisKernel::RowSpan;

/// Rows of one ring, weighted so that they sum to its share of the light (before all are set to 1).
void addRing(const IrisOpening& opening, const IrisOpening::Ring& ring, double radius, double widthScale,
             std::vector<RowSpan>& rows)
{
    const double scale = radius * ring.scale;
    const int reach = static_cast<int>(std::ceil(scale * opening.reach())) + 1;
    std::vector<IrisOpening::Span> spans;
    for (int dy = -reach; dy <= reach; ++dy) {
        double lo = 0.0;
        double hi = 0.0;
        double length = 0.0;
        for (int sub = 0; sub < kSubRows; ++sub) {
            spans.clear();
            const double y = dy - 0.5 + (sub + 0.5) / kSubRows;
            opening.crossings(y / scale, spans);
            for (const auto& span : spans) {
                const double left = span.lo * scale * widthScale;
                const double right = span.hi * scale * widthScale;
                const double weight = right - left;
                lo += left * weight; // longer sub-rows decide where the row lies
                hi += right * weight;
                length += weight;
            }
        }
        if (length <= 0.0) continue;
        RowSpan row{dy, lo / length, hi / length, 0.0};
        row.weight = ring.weight * length / kSubRows / (row.hi - row.lo);
        rows.push_back(row);
    }
}

/// Rows of a picture: its spans are cut at cells, each cell keeps what falls into it.
void addPicture(const IrisOpening& opening, double radius, double widthScale, std::vector<RowSpan>& rows)
{
    const int reach =
        static_cast<int>(std::ceil(radius * opening.reach() * std::max(1.0, widthScale) * 2.0)) + 1;
    std::vector<IrisOpening::Span> spans;
    std::vector<double> cells(static_cast<std::size_t>(2 * reach + 1));
    for (int dy = -reach; dy <= reach; ++dy) {
        std::fill(cells.begin(), cells.end(), 0.0);
        for (int sub = 0; sub < kSubRows; ++sub) {
            spans.clear();
            opening.crossings((dy - 0.5 + (sub + 0.5) / kSubRows) / radius, spans);
            for (const auto& span : spans) {
                const double lo = span.lo * radius * widthScale;
                const double hi = span.hi * radius * widthScale;
                for (int x = static_cast<int>(std::floor(lo + 0.5)); x < hi + 0.5; ++x) {
                    const double inside = std::min(hi, x + 0.5) - std::max(lo, x - 0.5);
                    if (inside > 0.0 && std::abs(x) <= reach)
                        cells[static_cast<std::size_t>(x + reach)] += inside * span.weight / kSubRows;
                }
            }
        }
        const double brightest = *std::max_element(cells.begin(), cells.end());
        for (std::size_t x = 0; x < cells.size();) {
            std::size_t end = x;
            double sum = 0.0;
            while (end < cells.size() && std::abs(cells[end] - cells[x]) <= 0.01 * brightest)
                sum += cells[end++];
            const double left = static_cast<double>(x) - reach - 0.5;
            if (sum > 0.0)
                rows.push_back(
                    {dy, left, left + static_cast<double>(end - x), sum / static_cast<double>(end - x)});
            x = end;
        }
    }
}

double massOf(const RowSpan& row)
{
    return row.weight * (row.hi - row.lo);
}

void normalise(std::vector<RowSpan>& rows)
{
    double mass = 0.0;
    for (const auto& row : rows)
        mass += massOf(row);
    for (auto& row : rows)
        row.weight /= mass;
}

std::vector<RowSpan> rowSpans(const IrisOpening& opening, double radius, double widthScale)
{
    std::vector<RowSpan> rows;
    if (opening.isPicture()) {
        addPicture(opening, radius, widthScale, rows);
    } else {
        for (const auto& ring : opening.rings())
            addRing(opening, ring, radius, widthScale, rows);
        std::stable_sort(rows.begin(), rows.end(),
                         [](const RowSpan& a, const RowSpan& b) { return a.dy < b.dy; });
    }
    normalise(rows);
    return rows;
}

/// Vertical variance of the kernel about its own mean; rows are whole cells.
double verticalVariance(const std::vector<RowSpan>& rows)
{
    double mean = 0.0;
    double square = 0.0;
    for (const auto& row : rows) {
        mean += massOf(row) * row.dy;
        square += massOf(row) * row.dy * row.dy;
    }
    return square - mean * mean;
}

/// The radius (in cells) whose discrete kernel has the variance of the ideal disc. `radius` is in cells too.
double effectiveRadius(const IrisOpening& opening, double radius, int cell)
{
    if (radius >= 32.0) // beyond, a cell's own width no longer matters
        return radius;
    // Of rim and centre stop only the outline matters here.
    const IrisOpening::Ring outline;
    const auto varianceAt = [&](double at) {
        std::vector<RowSpan> rows;
        if (opening.isPicture())
            addPicture(opening, at, 1.0, rows);
        else
            addRing(opening, outline, at, 1.0, rows);
        normalise(rows);
        return verticalVariance(rows);
    };
    // The mean over a cell's pixels adds (k^2 - 1) / 12 px^2, linear interpolation about twice as much.
    const double added = 0.25 * (1.0 - 1.0 / (cell * cell));
    const double target = std::max(0.0, opening.outlineVariance() * radius * radius - added);
    if (radius >= 4.0) {
        // Variance is near to a square plus a constant: two steps are enough.
        double at = radius;
        for (int i = 0; i < 2; ++i)
            at = std::sqrt(std::max(0.25, at * at + (target - varianceAt(at)) / opening.outlineVariance()));
        return at;
    }
    double low = 0.25;
    double high = radius + 1.0;
    for (int i = 0; i < 20; ++i) {
        const double middle = 0.5 * (low + high);
        (varianceAt(middle) < target ? low : high) = middle;
    }
    return 0.5 * (low + high);
}

} // namespace

IrisKernel::IrisKernel(const optics::Iris& iris, const KernelShape& shape)
    : IrisKernel(IrisOpenings(iris, 6), shape)
{
}

IrisKernel::IrisKernel(const IrisOpenings& openings, const KernelShape& shape)
    : m_widthScale(shape.widthScale)
{
    const double radius = std::abs(shape.radiusPx) / shape.cell;
    if (radius <= 0.0) {
        m_rows.push_back({0, -0.5, 0.5, 1.0});
    } else {
        const IrisOpening& opening = shape.radiusPx < 0.0 ? openings.front : openings.behind;
        m_drawnRadius = effectiveRadius(opening, radius, shape.cell);
        m_rows = rowSpans(opening, m_drawnRadius, shape.widthScale);
    }
    for (const RowSpan& row : m_rows) {
        m_reachX = std::max(m_reachX, static_cast<int>(std::ceil(std::max(-row.lo, row.hi) - 0.5)));
        m_reachY = std::max(m_reachY, std::abs(row.dy));
    }
    if (shape.edgeTables) buildEdgeTables();
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
    for (std::size_t i = 0; i < rows; ++i)
        while (m_rows.front().dy + static_cast<int>(m_firstOfRow.size()) <= m_rows[i].dy)
            m_firstOfRow.push_back(static_cast<int>(i));
    m_firstOfRow.push_back(static_cast<int>(rows));
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
    // A source row y - dy must lie in the frame: dy in (y - height, y].
    const int rows = static_cast<int>(m_firstOfRow.size()) - 1;
    const int firstDy = m_rows.front().dy;
    const int firstRow = std::clamp(y - height + 1 - firstDy, 0, rows);
    const int endRow = std::clamp(y + 1 - firstDy, firstRow, rows);
    const int first = m_firstOfRow[static_cast<std::size_t>(firstRow)];
    const int end = m_firstOfRow[static_cast<std::size_t>(endRow)];
    const double mass = m_rowMass[static_cast<std::size_t>(end)] - m_rowMass[static_cast<std::size_t>(first)];
    return mass - cutShare(m_leftCut, x, first, end) - cutShare(m_rightCut, width - 1 - x, first, end);
}

} // namespace retinex::defocus
