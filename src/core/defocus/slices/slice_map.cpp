#include "core/defocus/slices/slice_map.h"

#include <algorithm>

namespace retinex::defocus {

SliceGrid gridFor(const Surfaces& surfaces, const Run& run)
{
    const auto layers = layersOf(surfaces);
    std::vector<std::pair<float, float>> ends(static_cast<std::size_t>(surfaces.visible.radiusPx.height()));
    parallelFor(static_cast<int>(ends.size()), run, [&](int y) {
        auto& [nearest, farthest] = ends[static_cast<std::size_t>(y)];
        for (const SurfaceLayer* layer : layers) {
            const float* radius = layer->radiusPx.row(y);
            for (int x = 0; x < layer->radiusPx.width(); ++x) {
                nearest = std::min(nearest, radius[x]);
                farthest = std::max(farthest, radius[x]);
            }
        }
    });
    std::pair<float, float> all;
    for (const auto& [nearest, farthest] : ends)
        all = {std::min(all.first, nearest), std::max(all.second, farthest)};
    return {-all.first, all.second};
}

namespace {

/// What a pixel marks in its block.
struct Marks
{
    int block = -1;
    int slice = 0;
    bool isHere = false; ///< in the slice, and in the one behind
    bool isBehind = false;
    bool isClear = false;
    bool isGuessed = false;
    friend bool operator==(const Marks&, const Marks&) = default;
};

} // namespace

SliceMap::SliceMap(const SurfaceLayer& surface, const SliceGrid& grid, const Run& run)
    : m_slice(surface.coverage.width(), surface.coverage.height()), m_behind(width(), height()),
      m_blocks((width() + blockSize - 1) / blockSize, (height() + blockSize - 1) / blockSize),
      m_clear(m_blocks.width(), m_blocks.height()), m_guessed(m_blocks.width(), m_blocks.height())
{
    const Run quiet{run.threads, {}, run.stop};
    if (surface.isSparse) {
        m_slice.expectFewWritten();
        m_behind.expectFewWritten();
    }
    parallelFor(m_blocks.height(), quiet, [&](int blockRow) {
        const int endY = std::min((blockRow + 1) * blockSize, height());
        for (int y = blockRow * blockSize; y < endY; ++y) {
            run.throwIfStopped();
            const float* coverage = surface.coverage.row(y);
            const float* evidence = surface.evidence.row(y);
            const float* alpha = surface.colour.plane(3).row(y);
            const float* radius = surface.radiusPx.row(y);
            std::uint8_t* slice = m_slice.row(y);
            float* behind = m_behind.row(y);
            SliceGrid::Place place;
            Marks marks;
            for (int x = 0; x < width(); ++x) {
                if (coverage[x] <= 0.0F) continue;
                place = grid.place(radius[x], place.slice);
                slice[x] = static_cast<std::uint8_t>(place.slice);
                behind[x] = place.behind;
                // Neighbours are mostly alike: what has been marked is not marked again.
                const bool isHere = place.behind < 1.0F;
                const bool isBehind = place.behind > 0.0F;
                const Marks its{x / blockSize,
                                place.slice,
                                isHere,
                                isBehind,
                                alpha[x] != evidence[x],
                                evidence[x] != coverage[x]};
                if (its == marks) continue;
                marks = its;
                const auto mark = [&](Plane<Slices>& blocks) {
                    Slices& slices = blocks.at(its.block, blockRow);
                    if (its.isHere) slices.set(static_cast<std::size_t>(its.slice));
                    if (its.isBehind) slices.set(static_cast<std::size_t>(its.slice) + 1);
                };
                mark(m_blocks);
                if (its.isClear) mark(m_clear);
                if (its.isGuessed) mark(m_guessed);
            }
        }
    });
}

SliceMap::Kind SliceMap::kind(int slice, const Box& where) const noexcept
{
    Kind all;
    if (where.empty()) return all;
    for (int by = where.y0 / blockSize; by <= (where.y1 - 1) / blockSize; ++by) {
        for (int bx = where.x0 / blockSize; bx <= (where.x1 - 1) / blockSize; ++bx) {
            all.isOpaque &= !m_clear.at(bx, by).test(static_cast<std::size_t>(slice));
            all.isSeen &= !m_guessed.at(bx, by).test(static_cast<std::size_t>(slice));
        }
    }
    return all;
}

SliceMap::Box SliceMap::find(int slice, Box where) const noexcept
{
    where = {std::max(where.x0, 0), std::max(where.y0, 0), std::min(where.x1, width()),
             std::min(where.y1, height())};
    if (where.empty()) return {};
    Box found{width(), height(), 0, 0};
    for (int by = where.y0 / blockSize; by <= (where.y1 - 1) / blockSize; ++by) {
        for (int bx = where.x0 / blockSize; bx <= (where.x1 - 1) / blockSize; ++bx) {
            if (!has(slice, bx, by)) continue;
            found.x0 = std::min(found.x0, bx * blockSize);
            found.y0 = std::min(found.y0, by * blockSize);
            found.x1 = std::max(found.x1, (bx + 1) * blockSize);
            found.y1 = std::max(found.y1, (by + 1) * blockSize);
        }
    }
    return {std::max(found.x0, where.x0), std::max(found.y0, where.y0), std::min(found.x1, where.x1),
            std::min(found.y1, where.y1)};
}

} // namespace retinex::defocus
