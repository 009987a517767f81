#include "core/defocus/spread/slice_spread.h"

#include <algorithm>
#include <cmath>

namespace retinex::defocus {

namespace {

/// With a cat's eye the disc differs from place to place: it is taken as constant over so many px of a row.
constexpr int kCatsEyeStep = 16;

int floorDiv(int a, int b)
{
    return a >= 0 ? a / b : -((-a + b - 1) / b);
}

int ceilDiv(int a, int b)
{
    return -floorDiv(-a, b);
}

/// massInside for a frame that may end within a cell.
double massInsideCells(const IrisKernel& kernel, int x, int y, double width, double height)
{
    const int wholeX = static_cast<int>(width);
    const int wholeY = static_cast<int>(height);
    const double partX = width - wholeX;
    const double partY = height - wholeY;
    const auto at = [&](int w, int h) {
        if (w < 1 || h < 1) return 0.0;
        return kernel.massInside(std::clamp(x, 0, w - 1), std::clamp(y, 0, h - 1), w, h);
    };
    const auto across = [&](int h) {
        const double whole = at(wholeX, h);
        return partX > 0.0 ? whole + partX * (at(wholeX + 1, h) - whole) : whole;
    };
    const double whole = across(wholeY);
    return partY > 0.0 ? whole + partY * (across(wholeY + 1) - whole) : whole;
}

} // namespace

bool SliceSpread::begin(const Slice& slice, const Box& tile)
{
    const int cell = slice.cell;
    const int around = cell > 1 ? 1 : 0;
    const int reachX = slice.kernel.reachX();
    const int reachY = slice.kernel.reachY();
    const Box reach{tile.x0 / cell - around - reachX, tile.y0 / cell - around - reachY,
                    ceilDiv(tile.x1, cell) + around + reachX, ceilDiv(tile.y1, cell) + around + reachY};
    Box pixels;
    for (const SortedLayer& layer : slice.layers)
        pixels = pixels.united(layer.map.find(
            slice.number, {reach.x0 * cell, reach.y0 * cell, reach.x1 * cell, reach.y1 * cell}));
    if (pixels.empty()) return false;
    m_source = {floorDiv(pixels.x0, cell), floorDiv(pixels.y0, cell), ceilDiv(pixels.x1, cell),
                ceilDiv(pixels.y1, cell)};
    m_reached = {std::max(tile.x0, (m_source.x0 - reachX - around) * cell),
                 std::max(tile.y0, (m_source.y0 - reachY - around) * cell),
                 std::min(tile.x1, (m_source.x1 + reachX + around) * cell),
                 std::min(tile.y1, (m_source.y1 + reachY + around) * cell)};
    if (m_reached.empty()) return false;
    m_outCells = {m_reached.x0 / cell - around, m_reached.y0 / cell - around,
                  ceilDiv(m_reached.x1, cell) + around, ceilDiv(m_reached.y1, cell) + around};
    m_outWidth = m_outCells.x1 - m_outCells.x0;
    m_nearFrameEdge =
        !slice.goesOn && (m_outCells.x0 < reachX || m_outCells.x1 * cell > slice.width - reachX * cell ||
                          m_outCells.y0 < reachY || m_outCells.y1 * cell > slice.height - reachY * cell);
    m_sums.build({slice.layers, slice.number, cell, slice.width, slice.height, slice.goesOn, slice.stop},
                 m_source, m_outCells.x0 - reachX - 2, m_outWidth + 2 * reachX + 6);
    m_out.resize(static_cast<std::size_t>((m_reached.x1 - m_reached.x0) * rowChannels()));
    if (cell > 1) spreadCells(slice);
    return true;
}

template <class Real>
void SliceSpread::addSpansAs(const std::vector<IrisKernel::RowSpan>& spans, int cellY, int from, int to,
                             std::vector<Span<Real>>& reaching, Real* sums)
{
    const int shift = m_outCells.x0;
    reaching.clear();
    for (const auto& span : spans) {
        const SliceSums::Extent extent = m_sums.extent(cellY - span.dy);
        if (extent.empty()) continue;
        const int x0 = std::max(from, extent.from + static_cast<int>(std::floor(span.lo - 0.5)));
        const int x1 = std::min(to, extent.to + static_cast<int>(std::ceil(span.hi + 0.5)));
        if (x0 >= x1) continue;
        reaching.emplace_back(m_sums.at<Real>(from, cellY - span.dy), 0.5 - span.hi, 0.5 - span.lo,
                              span.weight);
        reaching.back().from = x0 - from;
        reaching.back().to = x1 - from;
    }
    SpanRow<Real> row;
    row.spans = reaching.data();
    row.spanCount = static_cast<int>(reaching.size());
    row.prefixStride = m_sums.stride();
    row.sums = sums + (from - shift);
    row.sumsStride = m_outWidth;
    row.channels = m_sums.channels().count();
    row.count = to - from;
    defocus::addSpans(row);
}

/// Writes what `spans` bring to the cells [from, to) of row cellY.
void SliceSpread::addSpans(const std::vector<IrisKernel::RowSpan>& spans, int cellY, int from, int to,
                           float* sums)
{
    if (m_sums.isBright())
        addSpansAs(spans, cellY, from, to, m_brightSpans, m_brightSums.data());
    else
        addSpansAs(spans, cellY, from, to, m_spans, sums);
}

/// Spreads what arrives in a row of cells, channel after channel; false, and nothing written, when none does.
bool SliceSpread::spreadRow(const Slice& slice, int cellY, float* to)
{
    const int reach = slice.kernel.reachY();
    if (cellY + reach < m_source.y0 || cellY - reach >= m_source.y1) return false;
    const int count = m_outWidth * m_sums.channels().count();
    if (m_sums.isBright()) m_brightSums.resize(static_cast<std::size_t>(count));
    if (slice.catsEye.isOn()) {
        const int step = std::max(1, kCatsEyeStep / slice.cell);
        for (int x = m_outCells.x0; x < m_outCells.x1; x += step) {
            const int end = std::min(x + step, m_outCells.x1);
            slice.catsEye.clip(slice.kernel, slice.turnedOver, (0.5 * (x + end)) * slice.cell - 0.5,
                               (cellY + 0.5) * slice.cell - 0.5, m_clipped);
            addSpans(m_clipped, cellY, x, end, to);
        }
    } else {
        addSpans(slice.kernel.rows(), cellY, m_outCells.x0, m_outCells.x1, to);
    }
    if (m_sums.isBright())
        std::transform(m_brightSums.begin(), m_brightSums.end(), to,
                       [](double v) { return static_cast<float>(v); });
    return true;
}

void SliceSpread::fillInside(const Slice& slice, int cellY, float* to) const
{
    const double width = static_cast<double>(slice.width) / slice.cell;
    const double height = static_cast<double>(slice.height) / slice.cell;
    const int reach = slice.kernel.reachX() + 1;
    const int endOfMiddle = static_cast<int>(width) - reach;
    float middle = -1.0F; // away from the left and the right edge it is the same all along the row
    for (int x = m_outCells.x0; x < m_outCells.x1; ++x) {
        float& out = to[x - m_outCells.x0];
        if (x < reach || x >= endOfMiddle) {
            out = static_cast<float>(massInsideCells(slice.kernel, x, cellY, width, height));
            continue;
        }
        if (middle < 0.0F)
            middle = static_cast<float>(massInsideCells(slice.kernel, x, cellY, width, height));
        out = middle;
    }
}

void SliceSpread::spreadCells(const Slice& slice)
{
    const int rows = m_outCells.y1 - m_outCells.y0;
    const int rowSize = m_outWidth * rowChannels();
    m_cells.resize(static_cast<std::size_t>(rows * rowSize));
    m_cellRowUsed.assign(static_cast<std::size_t>(rows), 0);
    for (Wide& wide : m_wide)
        wide.row = -1;
    for (int row = 0; row < rows; ++row) {
        throwIfStopped(slice.stop);
        float* to = m_cells.data() + row * rowSize;
        const int shares = m_outWidth * m_sums.channels().count();
        const bool used = spreadRow(slice, m_outCells.y0 + row, to);
        m_cellRowUsed[static_cast<std::size_t>(row)] = used ? 1 : 0;
        if (!used) std::fill_n(to, shares, 0.0F);
        if (m_nearFrameEdge) fillInside(slice, m_outCells.y0 + row, to + shares);
    }
}

/// A row of cells interpolated to the tile's pixels, channel after channel.
const float* SliceSpread::widened(int row, int cell)
{
    Wide& wide = m_wide[static_cast<std::size_t>(row % 2)];
    if (wide.row != row) {
        wide.row = row;
        const int width = m_reached.x1 - m_reached.x0;
        wide.values.resize(static_cast<std::size_t>(width * rowChannels()));
        for (int c = 0; c < rowChannels(); ++c)
            expandCells(m_cells.data() + (row * rowChannels() + c) * m_outWidth, cell,
                        wide.values.data() + c * width, width);
    }
    return wide.values.data();
}

bool SliceSpread::row(const Slice& slice, int y, Rows& rows)
{
    const int width = m_reached.x1 - m_reached.x0;
    const int told = m_sums.channels().count();
    if (slice.cell == 1) {
        if (!spreadRow(slice, y, m_out.data())) return false;
        if (m_nearFrameEdge) fillInside(slice, y, m_out.data() + told * width);
    } else {
        // Between rows of cells, linearly.
        const int upper = (2 * (y - m_reached.y0) + 1 + slice.cell) / (2 * slice.cell);
        if (m_cellRowUsed[static_cast<std::size_t>(upper)] == 0 &&
            m_cellRowUsed[static_cast<std::size_t>(upper + 1)] == 0)
            return false;
        const float at =
            (static_cast<float>(y - m_reached.y0) + 0.5F) / static_cast<float>(slice.cell) + 0.5F;
        const float* a = widened(upper, slice.cell);
        mixRows(a, widened(upper + 1, slice.cell), at - static_cast<float>(upper), m_out.data(),
                width * rowChannels());
    }
    for (int c = 0; c < SpreadChannels::most; ++c)
        rows[static_cast<std::size_t>(c)] = m_out.data() + m_sums.channels().place(c) * width;
    rows[inside] = m_nearFrameEdge ? m_out.data() + told * width : nullptr;
    return true;
}

} // namespace retinex::defocus
