#include "core/defocus/spread/tile_order.h"

#include "core/defocus/spread/tile_gather.h"

#include <algorithm>

namespace retinex::defocus {

/// Wide enough that a tile's prefix rows are much longer than the margins, small enough to stay in L2; in a
/// small picture smaller, or there would be too few for all threads.
TileOrder::Size TileOrder::Size::of(int pictureWidth, int pictureHeight)
{
    constexpr int enough = 16;
    Size size{256, 128};
    while (size.height > TileGather::alignment &&
           size.columns(pictureWidth) * size.rows(pictureHeight) < enough)
        size = {size.width / 2, size.height / 2};
    return size;
}

TileOrder::TileOrder(Surfaces& surfaces, std::vector<SortedLayer>& sorted,
                     const std::vector<IrisKernel>& kernels, const SliceGrid& grid, int sidePx)
    : m_surfaces(surfaces), m_sorted(sorted), m_width(surfaces.visible.coverage.width()),
      m_height(surfaces.visible.coverage.height()),
      m_tile(sidePx > 0 ? Size{sidePx, sidePx} : Size::of(m_width, m_height)),
      m_columns(m_tile.columns(m_width)), m_left(static_cast<std::size_t>(m_tile.rows(m_height)), m_columns)
{
    for (int slice = 0; slice < grid.count(); ++slice)
        m_reach = std::max(m_reach, kernels[static_cast<std::size_t>(slice)].reachY() * grid.cell(slice));
    // Interpolation looks at a few cells more, and slices are found to the block.
    m_reach += 4 * SliceGrid::largestCell + SliceMap::blockSize;
}

TileOrder::Box TileOrder::take() noexcept
{
    const int index = m_next++;
    const int x = index % m_columns * m_tile.width;
    const int y = index / m_columns * m_tile.height;
    return {x, y, std::min(x + m_tile.width, m_width), std::min(y + m_tile.height, m_height)};
}

void TileOrder::done(const Box& tile) noexcept
{
    const std::lock_guard lock(m_mutex);
    --m_left[static_cast<std::size_t>(tile.y0 / m_tile.height)];
    while (m_firstLeft < m_left.size() && m_left[m_firstLeft] == 0)
        ++m_firstLeft;
    const int until = std::min(static_cast<int>(m_firstLeft) * m_tile.height, m_height) - m_reach;
    if (until <= m_forgotten) return;
    forget(m_forgotten, until);
    m_forgotten = until;
}

void TileOrder::forget(int known, int end) noexcept
{
    for (SurfaceLayer* layer : layersOf(m_surfaces)) {
        for (int c = 0; c < RgbaImage::channels; ++c)
            layer->colour.plane(c).forgetRows(known, end);
        for (Plane<float>* plane : {&layer->coverage, &layer->evidence, &layer->radiusPx})
            plane->forgetRows(known, end);
    }
    for (SortedLayer& layer : m_sorted)
        layer.map.forgetRows(known, end);
}

} // namespace retinex::defocus
