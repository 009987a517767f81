#include "core/defocus/spread/slice_sums.h"

#include "core/defocus/spread/span_kernels.h"

#include <algorithm>
#include <type_traits>

namespace retinex::defocus {

namespace {

/// A row whose light sums to more than this is summed in double precision: in single precision its rounding,
/// 6e-8 of the sum, would leave a trace of about 1e-5 along the rest of its row.
constexpr double kBrightRow = 2000.0;
/// The same of a slice that holds guesses, whose evidence is a tenth of what they cover.
constexpr double kBrightGuesses = 50.0;

} // namespace

SpreadChannels::SpreadChannels(const SliceMap::Kind& kind) : m_count(0)
{
    for (const int channel : {red, green, blue, coverage}) {
        m_place[static_cast<std::size_t>(channel)] = m_count;
        m_channel[static_cast<std::size_t>(m_count++)] = channel;
    }
    const auto sameAs = [&](int channel, int other, bool isSame) {
        if (!isSame) m_channel[static_cast<std::size_t>(m_count)] = channel;
        m_place[static_cast<std::size_t>(channel)] = isSame ? place(other) : m_count++;
    };
    sameAs(evidence, coverage, kind.isSeen);
    sameAs(alpha, evidence, kind.isOpaque);
}

const float* SpreadChannels::row(const SurfaceLayer& surface, int place, int y) const
{
    const int channel = m_channel[static_cast<std::size_t>(place)];
    if (channel == coverage) return surface.coverage.row(y);
    if (channel == evidence) return surface.evidence.row(y);
    return surface.colour.plane(channel).row(y);
}

void SliceSums::build(const Source& source, const Box& cells, int firstX, int stride)
{
    const Box pixels{cells.x0 * source.cell, cells.y0 * source.cell,
                     std::min(cells.x1 * source.cell, source.width),
                     std::min(cells.y1 * source.cell, source.height)};
    SliceMap::Kind kind;
    for (const SortedLayer& layer : source.layers) {
        const SliceMap::Kind its = layer.map.kind(source.slice, pixels);
        kind.isOpaque &= its.isOpaque;
        kind.isSeen &= its.isSeen;
    }
    m_channels = SpreadChannels(kind);
    m_cells = cells;
    m_firstX = firstX;
    m_stride = stride;
    m_valueStride = (cells.x1 - cells.x0) * source.cell;
    m_values.resize(static_cast<std::size_t>(m_valueStride * m_channels.count()));
    m_extents.assign(static_cast<std::size_t>(cells.y1 - cells.y0), {});
    m_isBright = false;
    m_brightRow = kind.isSeen ? kBrightRow : kBrightGuesses;
    constexpr int far = std::numeric_limits<int>::max();
    m_firstRow = source.goesOn ? 0 : -far;
    m_lastRow = source.goesOn ? (source.height - 1) / source.cell : far;
    sumAs(source, m_single);
    if (m_isBright) sumAs(source, m_double);
}

template <class Real>
void SliceSums::sumAs(const Source& source, std::vector<Real>& sums)
{
    const std::size_t size = rowAt(m_cells.y1);
    if (sums.size() < size) sums.resize(size);
    for (int y = m_cells.y0; y < m_cells.y1; ++y) {
        throwIfStopped(source.stop);
        const Extent extent = collect(source, y);
        m_extents[static_cast<std::size_t>(y - m_cells.y0)] = extent;
        if (extent.empty()) continue;
        Real* row = sums.data() + rowAt(y) - m_firstX;
        if (m_channels.count() == 4)
            sumRow<Real, 4>(extent, row);
        else if (m_channels.count() == 5)
            sumRow<Real, 5>(extent, row);
        else
            sumRow<Real, 6>(extent, row);
        if (std::is_same_v<Real, float> && m_isBright) return; // all over again
        if (source.goesOn && goOn(row, (source.width - 1) / source.cell + 1))
            m_extents[static_cast<std::size_t>(y - m_cells.y0)] = {m_firstX, m_firstX + m_stride};
    }
}

/// Beyond the picture each cell is as the one at its edge; false where that holds nothing. `sums` is indexed
/// by cell.
template <class Real>
bool SliceSums::goOn(Real* sums, int endOfPicture) const
{
    bool any = false;
    for (int c = 0; c < m_channels.count(); ++c) {
        Real* row = sums + c * m_stride;
        if (m_cells.x0 == 0 && row[1] != Real{0}) {
            const Real each = row[1];
            for (int x = m_firstX; x < 0; ++x)
                row[x] = static_cast<Real>(x) * each;
            any = true;
        }
        if (m_cells.x1 < endOfPicture) continue;
        const Real each = row[endOfPicture] - row[endOfPicture - 1];
        if (each == Real{0}) continue;
        const Real all = row[endOfPicture];
        for (int x = endOfPicture + 1; x < m_firstX + m_stride; ++x)
            row[x] = all + static_cast<Real>(x - endOfPicture) * each;
        any = true;
    }
    return any;
}

/// The same within the cells that the picture ends in.
void SliceSums::goOnWithinCell(int endOfPicture, int cell, Extent& pixels)
{
    const int first = m_cells.x0 * cell;
    const int end = m_cells.x1 * cell;
    if (pixels.to < endOfPicture || endOfPicture >= end) return;
    for (int c = 0; c < m_channels.count(); ++c) {
        float* values = m_values.data() + c * m_valueStride - first;
        std::fill(values + endOfPicture, values + end, values[endOfPicture - 1]);
    }
    pixels.to = end;
}

/// Running sums of m_values, all channels at once: each waits for its last addition only. `sums` is indexed
/// by cell.
template <class Real, int Count>
void SliceSums::sumRow(const Extent& extent, Real* sums)
{
    std::array<double, Count> sum{};
    for (int c = 0; c < Count; ++c)
        std::fill(sums + c * m_stride + m_firstX, sums + c * m_stride + extent.from + 1, Real{0});
    const float* values = m_values.data() - m_cells.x0;
    for (int x = extent.from; x < extent.to; ++x) {
        for (int c = 0; c < Count; ++c) {
            sum[static_cast<std::size_t>(c)] += static_cast<double>(values[c * m_valueStride + x]);
            sums[c * m_stride + x + 1] = static_cast<Real>(sum[static_cast<std::size_t>(c)]);
        }
    }
    for (int c = 0; c < Count; ++c) {
        const double all = sum[static_cast<std::size_t>(c)];
        std::fill(sums + c * m_stride + extent.to + 1, sums + c * m_stride + m_firstX + m_stride,
                  static_cast<Real>(all));
        if (std::is_same_v<Real, float> && all > m_brightRow) m_isBright = true;
    }
}

/// The slice's pixels of a row of cells, into m_values; returns the cells that hold any.
SliceSums::Extent SliceSums::collect(const Source& source, int cellY)
{
    Extent pixels{source.width, 0};
    std::fill(m_values.begin(), m_values.end(), 0.0F);
    const int endY =
        source.goesOn ? (cellY + 1) * source.cell : std::min(source.height, (cellY + 1) * source.cell);
    for (int y = cellY * source.cell; y < endY; ++y)
        for (const SortedLayer& layer : source.layers)
            addRow(source, layer, std::min(y, source.height - 1), pixels);
    const float* covered = m_values.data() + m_channels.place(SpreadChannels::coverage) * m_valueStride -
                           m_cells.x0 * source.cell; // blocks are coarse
    while (!pixels.empty() && covered[pixels.from] == 0.0F)
        ++pixels.from;
    while (!pixels.empty() && covered[pixels.to - 1] == 0.0F)
        --pixels.to;
    if (pixels.empty()) return {};
    if (source.goesOn) goOnWithinCell(source.width, source.cell, pixels);
    if (source.cell > 1) joinRows(source.cell, pixels);
    return {pixels.from / source.cell, (pixels.to - 1) / source.cell + 1};
}

/// Adds the pixels of row y that belong to the slice to m_values, and widens the extent to hold them.
void SliceSums::addRow(const Source& source, const SortedLayer& layer, int y, Extent& extent)
{
    constexpr int block = SliceMap::blockSize;
    const int first = m_cells.x0 * source.cell;
    const int end = std::min(source.width, m_cells.x1 * source.cell);
    SharedRow row;
    row.slice = source.slice;
    row.channels = m_channels.count();
    for (int x = first; x < end;) {
        // Neighbouring blocks that hold some of it, together.
        const int from = x;
        while (x < end && layer.map.has(source.slice, x / block, y / block))
            x = (x / block + 1) * block;
        const int to = std::min(x, end);
        if (from == to) {
            x = (x / block + 1) * block;
            continue;
        }
        row.rung = layer.map.rungs(y) + from;
        row.behind = layer.map.behind(y) + from;
        for (int c = 0; c < row.channels; ++c) {
            row.value[c] = m_channels.row(layer.surface, c, y) + from;
            row.sum[c] = m_values.data() + c * m_valueStride + (from - first);
        }
        addShared(row, to - from);
        extent.from = std::min(extent.from, from);
        extent.to = std::max(extent.to, to);
    }
}

/// Pixels to cells, within m_values.
void SliceSums::joinRows(int cell, const Extent& pixels)
{
    const float mean = 1.0F / static_cast<float>(cell * cell);
    const int first = pixels.from / cell - m_cells.x0;
    const int end = (pixels.to - 1) / cell + 1 - m_cells.x0;
    for (int c = 0; c < m_channels.count(); ++c) {
        float* row = m_values.data() + c * m_valueStride;
        joinCells(row + first * cell, cell, row + first, end - first, mean);
    }
}

} // namespace retinex::defocus
