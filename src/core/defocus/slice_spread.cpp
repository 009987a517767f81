#include "core/defocus/slice_spread.h"

#include "core/defocus/span_kernels.h"

#include <algorithm>
#include <cmath>
#include <type_traits>

namespace retinex::defocus {

namespace {

/// With a cat's eye the disc differs from place to place: it is taken as constant over so many px of a row.
constexpr int kCatsEyeStep = 16;

/// A row whose light sums to more than this is summed in double precision: in single precision its rounding,
/// 6e-8 of the sum, would leave a trace of about 1e-5 along the rest of its row.
constexpr double kBrightRow = 2000.0;

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
    m_tile = tile;
    m_outCells = {tile.x0 / cell - around, tile.y0 / cell - around, ceilDiv(tile.x1, cell) + around,
                  ceilDiv(tile.y1, cell) + around};
    const Box reach{m_outCells.x0 - reachX, m_outCells.y0 - reachY, m_outCells.x1 + reachX,
                    m_outCells.y1 + reachY};
    Box pixels;
    for (const SortedLayer& layer : slice.layers)
        pixels = pixels.united(layer.map.find(
            slice.number, {reach.x0 * cell, reach.y0 * cell, reach.x1 * cell, reach.y1 * cell}));
    if (pixels.empty()) return false;
    m_source = {floorDiv(pixels.x0, cell), floorDiv(pixels.y0, cell), ceilDiv(pixels.x1, cell),
                ceilDiv(pixels.y1, cell)};
    m_outWidth = m_outCells.x1 - m_outCells.x0;
    m_outStride = tile.x1 - tile.x0;
    m_out.resize(static_cast<std::size_t>(m_outStride) * (channels + 1));
    m_prefixX = m_outCells.x0 - reachX - 2;
    m_prefixStride = m_outWidth + 2 * reachX + 6;
    m_nearFrameEdge = m_outCells.x0 < reachX || m_outCells.x1 * cell > slice.width - reachX * cell ||
                      m_outCells.y0 < reachY || m_outCells.y1 * cell > slice.height - reachY * cell;
    sumRows(slice);
    if (cell > 1) spreadCells(slice);
    m_firstRow = std::max(tile.y0, (m_source.y0 - reachY - around) * cell);
    m_endRow = std::min(tile.y1, (m_source.y1 + reachY + around) * cell);
    return m_firstRow < m_endRow;
}

/// Adds the pixels of row y that belong to the slice to m_values, and widens [first, end) to hold them.
void SliceSpread::addRow(const Slice& slice, const SortedLayer& layer, int y, int& first, int& end)
{
    const int x0 = std::max(0, m_source.x0 * slice.cell);
    const int x1 = std::min(slice.width, m_source.x1 * slice.cell);
    layer.map.shares(slice.number, y, x0, x1, m_share.data());
    int from = x0;
    int to = x1;
    while (from < to && m_share[static_cast<std::size_t>(from - x0)] == 0.0F)
        ++from;
    while (from < to && m_share[static_cast<std::size_t>(to - 1 - x0)] == 0.0F)
        --to;
    if (from >= to) return;
    first = std::min(first, from);
    end = std::max(end, to);
    const int shift = m_source.x0 * slice.cell;
    const int width = (m_source.x1 - m_source.x0) * slice.cell;
    for (int c = 0; c < channels; ++c) {
        const float* value = c == coverage   ? layer.surface.coverage.row(y)
                             : c == evidence ? layer.surface.evidence.row(y)
                                             : layer.surface.colour.plane(c).row(y);
        float* sum = m_values.data() + c * width;
        const float* share = m_share.data();
        for (int x = from; x < to; ++x)
            sum[x - shift] += value[x] * share[x - x0];
    }
}

/// The slice's pixels of a row of cells, into m_values; [first, end) holds them, in px.
void SliceSpread::collectRow(const Slice& slice, int cellY, int& first, int& end)
{
    std::fill(m_values.begin(), m_values.end(), 0.0F);
    first = slice.width;
    end = 0;
    const int endY = std::min(slice.height, (cellY + 1) * slice.cell);
    for (int y = std::max(0, cellY * slice.cell); y < endY; ++y)
        for (const SortedLayer& layer : slice.layers)
            addRow(slice, layer, y, first, end);
}

void SliceSpread::sumRows(const Slice& slice)
{
    const int width = (m_source.x1 - m_source.x0) * slice.cell;
    m_share.resize(static_cast<std::size_t>(width));
    m_values.resize(static_cast<std::size_t>(width) * channels);
    m_rowExtent.assign(static_cast<std::size_t>(m_source.y1 - m_source.y0), Box{});
    m_isBright = false;
    sumRowsAs(slice, m_prefix);
    if (m_isBright) sumRowsAs(slice, m_brightPrefix);
    if (m_isBright)
        m_brightSums.resize(static_cast<std::size_t>(m_outWidth) * channels);
    else
        m_sums.resize(static_cast<std::size_t>(m_outWidth) * channels);
}

template <class Real>
void SliceSpread::sumRowsAs(const Slice& slice, std::vector<Real>& prefixes)
{
    constexpr bool isSingle = std::is_same_v<Real, float>;
    prefixes.resize(prefixAt(m_source.y1 - m_source.y0, 0));
    const int cell = slice.cell;
    const int width = (m_source.x1 - m_source.x0) * cell;
    const float mean = 1.0F / static_cast<float>(cell * cell);
    for (int cellY = m_source.y0; cellY < m_source.y1; ++cellY) {
        int first = 0;
        int end = 0;
        collectRow(slice, cellY, first, end);
        if (first >= end) continue;
        const int from = first / cell;
        const int to = (end - 1) / cell + 1;
        const int row = cellY - m_source.y0;
        m_rowExtent[static_cast<std::size_t>(row)] = {from, 0, to, 0};
        for (int c = 0; c < channels; ++c) {
            Real* prefix = prefixes.data() + prefixAt(row, c) - m_prefixX; // now indexed by cell
            const float* value = m_values.data() + c * width + (from - m_source.x0) * cell;
            std::fill(prefix + m_prefixX, prefix + from + 1, Real{0});
            double sum = 0.0;
            for (int x = from; x < to; ++x) {
                float inCell = 0.0F;
                for (int i = 0; i < cell; ++i)
                    inCell += *value++;
                prefix[x + 1] = static_cast<Real>(sum += static_cast<double>(inCell * mean));
            }
            std::fill(prefix + to + 1, prefix + m_prefixX + m_prefixStride, static_cast<Real>(sum));
            if (isSingle && sum > kBrightRow) m_isBright = true;
        }
    }
}

template <class Real>
void SliceSpread::addSpansAs(const std::vector<IrisKernel::RowSpan>& spans, int cellY, int from, int to,
                             const std::vector<Real>& prefixes, std::vector<Real>& sums)
{
    SpanRow<Real> work;
    work.prefixStride = m_prefixStride;
    work.sumsStride = m_outWidth;
    work.channels = channels;
    for (const auto& span : spans) {
        const int sourceY = cellY - span.dy;
        if (sourceY < m_source.y0 || sourceY >= m_source.y1) continue;
        const int row = sourceY - m_source.y0;
        const Box& extent = m_rowExtent[static_cast<std::size_t>(row)];
        if (extent.x0 >= extent.x1) continue;
        const int x0 = std::max(from, extent.x0 + static_cast<int>(std::floor(span.lo - 0.5)));
        const int x1 = std::min(to, extent.x1 + static_cast<int>(std::ceil(span.hi + 0.5)));
        if (x0 >= x1) continue;
        work.prefix = prefixes.data() + prefixAt(row, 0) + (x0 - m_prefixX);
        work.sums = sums.data() + (x0 - m_outCells.x0);
        work.count = x1 - x0;
        work.startAt = 0.5 - span.hi;
        work.endAt = 0.5 - span.lo;
        work.weight = span.weight;
        addSpan(work);
    }
}

/// Adds what `spans` bring to the cells [from, to) of row cellY.
void SliceSpread::addSpans(const std::vector<IrisKernel::RowSpan>& spans, int cellY, int from, int to)
{
    if (m_isBright)
        addSpansAs(spans, cellY, from, to, m_brightPrefix, m_brightSums);
    else
        addSpansAs(spans, cellY, from, to, m_prefix, m_sums);
}

void SliceSpread::copySums(int channel, float* to) const
{
    const int from = channel * m_outWidth;
    if (m_isBright)
        std::transform(m_brightSums.begin() + from, m_brightSums.begin() + from + m_outWidth, to,
                       [](double v) { return static_cast<float>(v); });
    else
        std::copy_n(m_sums.begin() + from, m_outWidth, to);
}

/// Spreads into m_sums what arrives in a row of cells.
bool SliceSpread::spreadRow(const Slice& slice, int cellY)
{
    const int reach = slice.kernel.reachY();
    if (cellY + reach < m_source.y0 || cellY - reach >= m_source.y1) return false;
    std::fill(m_sums.begin(), m_sums.end(), 0.0F);
    std::fill(m_brightSums.begin(), m_brightSums.end(), 0.0);
    if (!slice.catsEye.isOn()) {
        addSpans(slice.kernel.rows(), cellY, m_outCells.x0, m_outCells.x1);
        return true;
    }
    const int step = std::max(1, kCatsEyeStep / slice.cell);
    for (int x = m_outCells.x0; x < m_outCells.x1; x += step) {
        const int end = std::min(x + step, m_outCells.x1);
        slice.catsEye.clip(slice.kernel, slice.turnedOver, (0.5 * (x + end)) * slice.cell - 0.5,
                           (cellY + 0.5) * slice.cell - 0.5, m_clipped);
        addSpans(m_clipped, cellY, x, end);
    }
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
    m_cells.resize(static_cast<std::size_t>(rows * (channels + 1) * m_outWidth));
    m_cellRowUsed.assign(static_cast<std::size_t>(rows), 0);
    for (int row = 0; row < rows; ++row) {
        const bool used = spreadRow(slice, m_outCells.y0 + row);
        m_cellRowUsed[static_cast<std::size_t>(row)] = used ? 1 : 0;
        for (int c = 0; c < channels; ++c) {
            if (used)
                copySums(c, cellRow(row, c));
            else
                std::fill_n(cellRow(row, c), m_outWidth, 0.0F);
        }
        if (m_nearFrameEdge) fillInside(slice, m_outCells.y0 + row, cellRow(row, inside));
    }
}

/// Row y of the tile between rows of cells, linearly in both directions.
void SliceSpread::expandRow(const Slice& slice, int y)
{
    const int cell = slice.cell;
    const float at = (static_cast<float>(y - m_tile.y0) + 0.5F) / static_cast<float>(cell) + 0.5F;
    const int upper = static_cast<int>(at);
    const float share = at - static_cast<float>(upper);
    const int count = m_nearFrameEdge ? channels + 1 : channels;
    m_values.resize(std::max(m_values.size(), static_cast<std::size_t>(m_outWidth)));
    float* mixed = m_values.data();
    for (int c = 0; c < count; ++c) {
        const float* a = cellRow(upper, c);
        const float* b = cellRow(upper + 1, c);
        for (int x = 0; x < m_outWidth; ++x)
            mixed[x] = a[x] + share * (b[x] - a[x]);
        expandCells(mixed, cell, outRow(c), m_outStride);
    }
}

bool SliceSpread::row(const Slice& slice, int y, Rows& rows)
{
    for (int c = 0; c <= channels; ++c)
        rows[static_cast<std::size_t>(c)] = outRow(c);
    if (slice.cell == 1) {
        if (!spreadRow(slice, y)) return false;
        for (int c = 0; c < channels; ++c)
            copySums(c, outRow(c));
        if (m_nearFrameEdge) fillInside(slice, y, outRow(inside));
        return true;
    }
    const int upper = (2 * (y - m_tile.y0) + 1 + slice.cell) / (2 * slice.cell);
    if (m_cellRowUsed[static_cast<std::size_t>(upper)] == 0 &&
        m_cellRowUsed[static_cast<std::size_t>(upper + 1)] == 0)
        return false;
    expandRow(slice, y);
    return true;
}

} // namespace retinex::defocus
