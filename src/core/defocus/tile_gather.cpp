#include "core/defocus/tile_gather.h"

#include "core/defocus/span_kernels.h"

#include <algorithm>
#include <cmath>

namespace retinex::defocus {

void TileGather::run(const GatherInput& input, const Box& tile, LayeredPicture& out)
{
    m_tileWidth = tile.x1 - tile.x0;
    m_sums.resize(static_cast<std::size_t>(m_tileWidth) * kChannels);
    for (int slice = 0; slice < input.grid.count(); ++slice) {
        const IrisKernel& kernel = input.kernels[static_cast<std::size_t>(slice)];
        const Box reach{tile.x0 - kernel.reachX(), tile.y0 - kernel.reachY(), tile.x1 + kernel.reachX(),
                        tile.y1 + kernel.reachY()};
        Box source;
        for (const SortedLayer& layer : input.layers)
            source = source.united(layer.map.find(slice, reach));
        if (source.empty()) continue;
        Layer& group = slice < input.grid.focalSlice() ? out.front : out.back;
        gatherSlice(input, slice, tile, source, group);
    }
}

void TileGather::gatherSlice(const GatherInput& input, int slice, const Box& tile, const Box& source,
                             Layer& group)
{
    const IrisKernel& kernel = input.kernels[static_cast<std::size_t>(slice)];
    m_prefixX = tile.x0 - kernel.reachX() - 2;
    m_prefixStride = m_tileWidth + 2 * kernel.reachX() + 6;
    m_prefix.resize(static_cast<std::size_t>(m_prefixStride) * kChannels *
                    static_cast<std::size_t>(source.y1 - source.y0));
    sumRows(input, slice, source);
    const int firstY = std::max(tile.y0, source.y0 - kernel.reachY());
    const int endY = std::min(tile.y1, source.y1 + kernel.reachY());
    for (int y = firstY; y < endY; ++y) {
        int endX = tile.x0;
        const int firstX = spreadRow(kernel, y, tile, source, endX);
        if (firstX < endX) addWithinBudget(input, slice, y, firstX, endX, tile, group);
    }
}

/// Adds the row's pixels of the slice to m_values, and widens the row's extent to hold them.
void TileGather::addRow(const SortedLayer& layer, int slice, int y, const Box& source)
{
    layer.map.shares(slice, y, source.x0, source.x1, m_share.data());
    const float* coverage = layer.surface.coverage.row(y) + source.x0;
    int first = source.x1;
    int end = source.x0;
    const int width = source.x1 - source.x0;
    for (int i = 0; i < width; ++i) {
        if (m_share[static_cast<std::size_t>(i)] == 0.0F || coverage[i] == 0.0F) {
            m_share[static_cast<std::size_t>(i)] = 0.0F;
            continue;
        }
        first = std::min(first, source.x0 + i);
        end = source.x0 + i + 1;
    }
    if (first >= end) return;
    Box& extent = m_rowExtent[static_cast<std::size_t>(y - source.y0)];
    extent = extent.x0 < extent.x1 ? Box{std::min(extent.x0, first), 0, std::max(extent.x1, end), 0}
                                   : Box{first, 0, end, 0};
    for (int c = 0; c < kChannels; ++c) {
        const float* value = (c == kCoverage   ? layer.surface.coverage.row(y)
                              : c == kEvidence ? layer.surface.evidence.row(y)
                                               : layer.surface.colour.plane(c).row(y)) +
                             source.x0;
        float* sum = m_values.data() + static_cast<std::size_t>(c) * static_cast<std::size_t>(width);
        for (int i = first - source.x0; i < end - source.x0; ++i)
            sum[i] += value[i] * m_share[static_cast<std::size_t>(i)];
    }
}

void TileGather::sumRows(const GatherInput& input, int slice, const Box& source)
{
    const auto width = static_cast<std::size_t>(source.x1 - source.x0);
    m_share.resize(width);
    m_rowExtent.assign(static_cast<std::size_t>(source.y1 - source.y0), Box{});
    for (int y = source.y0; y < source.y1; ++y) {
        m_values.assign(width * kChannels, 0.0F);
        for (const SortedLayer& layer : input.layers)
            addRow(layer, slice, y, source);
        const int row = y - source.y0;
        const Box& extent = m_rowExtent[static_cast<std::size_t>(row)];
        if (extent.x0 >= extent.x1) continue;
        for (int c = 0; c < kChannels; ++c) {
            double* prefix = prefixRow(row, c) - m_prefixX; // now indexed by x
            const float* value = m_values.data() + static_cast<std::size_t>(c) * width - source.x0;
            std::fill(prefix + m_prefixX, prefix + extent.x0 + 1, 0.0);
            double sum = 0.0;
            for (int x = extent.x0; x < extent.x1; ++x)
                prefix[x + 1] = sum += static_cast<double>(value[x]);
            std::fill(prefix + extent.x1 + 1, prefix + m_prefixX + m_prefixStride, sum);
        }
    }
}

/// Sums what reaches row y into m_sums; returns the first x that anything reached, and the end in `endX`.
int TileGather::spreadRow(const IrisKernel& kernel, int y, const Box& tile, const Box& source, int& endX)
{
    int reachedFrom = tile.x1;
    endX = tile.x0;
    std::fill(m_sums.begin(), m_sums.end(), 0.0);
    for (const IrisKernel::RowSpan& span : kernel.rows()) {
        const int sourceY = y - span.dy;
        if (sourceY < source.y0 || sourceY >= source.y1) continue;
        const int row = sourceY - source.y0;
        const Box& extent = m_rowExtent[static_cast<std::size_t>(row)];
        if (extent.x0 >= extent.x1) continue;
        const int x0 = std::max(tile.x0, extent.x0 + static_cast<int>(std::floor(span.lo - 0.5)));
        const int x1 = std::min(tile.x1, extent.x1 + static_cast<int>(std::ceil(span.hi + 0.5)));
        if (x0 >= x1) continue;
        reachedFrom = std::min(reachedFrom, x0);
        endX = std::max(endX, x1);
        for (int c = 0; c < kChannels; ++c)
            addSpan(prefixRow(row, c) + (x0 - m_prefixX), 0.5 - span.hi, 0.5 - span.lo, span.weight,
                    sums(c) + (x0 - tile.x0), x1 - x0);
    }
    return reachedFrom;
}

void TileGather::addWithinBudget(const GatherInput& input, int slice, int y, int firstX, int endX,
                                 const Box& tile, Layer& group)
{
    const IrisKernel& kernel = input.kernels[static_cast<std::size_t>(slice)];
    const int width = input.width;
    const int height = input.height;
    const bool nearEdge = tile.x0 < kernel.reachX() || tile.x1 > width - kernel.reachX() ||
                          y < kernel.reachY() || y >= height - kernel.reachY();
    const bool continued = input.frameEdge == FrameEdge::continuePicture;
    float* coverage = group.coverage.row(y);
    float* colour[RgbaImage::channels];
    for (int c = 0; c < RgbaImage::channels; ++c)
        colour[c] = group.colour.plane(c).row(y);
    for (int x = firstX; x < endX; ++x) {
        const int i = x - tile.x0;
        double covered = sums(kCoverage)[i];
        const double evidence = sums(kEvidence)[i];
        if (covered <= 1e-9 || evidence <= 1e-9) continue;
        // What lies beyond the frame covers as much as what is inside; it is alike, or it is dark.
        const double inside = nearEdge ? kernel.massInside(x, y, width, height) : 1.0;
        covered /= inside;
        const double left = 1.0 - static_cast<double>(coverage[x]);
        const double taken = std::min(covered, left);
        // The mean colour of what is seen stands for what is hidden too.
        const double scale = taken / evidence * (continued ? 1.0 : inside);
        coverage[x] += static_cast<float>(taken);
        for (int c = 0; c < RgbaImage::channels; ++c)
            colour[c][x] += static_cast<float>(sums(c)[i] * scale);
    }
}

} // namespace retinex::defocus
