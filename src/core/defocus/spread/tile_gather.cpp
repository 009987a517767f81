#include "core/defocus/spread/tile_gather.h"

#include "core/defocus/spread/span_kernels.h"
#include "core/image/touch_memory.h"

#include <algorithm>
#include <utility>

namespace retinex::defocus {

void TileGather::Nearer::begin(const Box& tile)
{
    m_tile = tile;
    m_count = 0;
}

void TileGather::Nearer::keep(int slice, const Plane<float>& coverage)
{
    const int width = m_tile.x1 - m_tile.x0;
    const int height = m_tile.y1 - m_tile.y0;
    Kept& kept = m_kept[m_count++ % m_kept.size()];
    kept.slice = slice;
    kept.coverage.resize(static_cast<std::size_t>(width) * static_cast<std::size_t>(height));
    float* to = kept.coverage.data();
    for (int y = m_tile.y0; y < m_tile.y1; ++y, to += width)
        std::copy_n(coverage.row(y) + m_tile.x0, width, to);
    // The first of the neighbours: what had been added before it are no neighbours.
    m_chosen = &kept;
    for (std::size_t i = 0; i < std::min(m_count, m_kept.size()); ++i)
        if (m_kept[i].slice >= slice - kNeighbours && m_kept[i].slice < m_chosen->slice)
            m_chosen = &m_kept[i];
}

const float* TileGather::Nearer::from(int x, int y) const
{
    return m_chosen->coverage.data() + (y - m_tile.y0) * (m_tile.x1 - m_tile.x0) + (x - m_tile.x0);
}

void TileGather::run(const GatherInput& input, const Box& tile, LayeredPicture& out)
{
    m_nearer.begin(tile);
    m_claimed = nullptr;
    for (int slice = 0; slice < input.grid.count(); ++slice) {
        throwIfStopped(input.stop);
        gatherSlice(input, slice, tile, out);
    }
    if (!m_glints.spread(input.glints, input.catsEye, tile, input.stop)) return;
    for (const int y : {tile.y0, tile.y1 - 1})
        touchMemory({&out.glints[0], &out.glints[1], &out.glints[2]}, tile.x0, y, input.stop);
    for (int y = tile.y0; y < tile.y1; ++y) {
        if (!m_glints.hasRow(y - tile.y0)) continue;
        throwIfStopped(input.stop);
        std::array<float*, 3> to{};
        for (std::size_t c = 0; c < to.size(); ++c)
            to[c] = out.glints[c].row(y) + tile.x0;
        m_glints.addRow(y - tile.y0, to);
    }
}

/// Before the tile's first pixels of a group are written.
void TileGather::claim(Layer& group, const Box& tile, const std::stop_token& stop)
{
    if (std::exchange(m_claimed, &group) == &group) return;
    for (const int y : {tile.y0, tile.y1 - 1})
        touchMemory(group.colour, {&group.coverage}, tile.x0, y, stop);
}

void TileGather::gatherSlice(const GatherInput& input, int number, const Box& tile, LayeredPicture& out)
{
    const bool isFront = number < input.grid.focalSlice();
    const SliceSpread::Slice slice{input.layers,
                                   number,
                                   input.kernels[static_cast<std::size_t>(number)],
                                   input.grid.cell(number),
                                   isFront,
                                   input.catsEye,
                                   input.width,
                                   input.height,
                                   input.frameEdge == FrameEdge::continuePicture,
                                   input.stop};
    if (!m_spread.begin(slice, tile)) return;
    Layer& group = isFront ? out.front : out.back;
    claim(group, tile, input.stop);
    if (isFront) m_nearer.keep(number, group.coverage);
    const Box& reached = m_spread.reached();
    SliceSpread::Rows rows{};
    for (int y = reached.y0; y < reached.y1; ++y) {
        throwIfStopped(input.stop);
        if (!m_spread.row(slice, y, rows)) continue;
        BudgetRow row;
        for (int c = 0; c < RgbaImage::channels; ++c) {
            row.light[c] = rows[static_cast<std::size_t>(c)];
            row.colour[c] = group.colour.plane(c).row(y) + reached.x0;
        }
        row.evidence = rows[SpreadChannels::evidence];
        row.covered = rows[SpreadChannels::coverage];
        row.inside = rows[SliceSpread::inside];
        // Without guesses nothing hangs on what is nearer.
        if (isFront && row.evidence != row.covered) row.nearer = m_nearer.from(reached.x0, y);
        row.coverage = group.coverage.row(y) + reached.x0;
        addWithinBudget(row, reached.x1 - reached.x0);
    }
}

} // namespace retinex::defocus
