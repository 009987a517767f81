#include "core/defocus/slice_map.h"

#include <algorithm>

namespace retinex::defocus {

SliceMap::SliceMap(const Plane<float>& radiusPx, const Plane<float>& coverage, const SliceGrid& grid,
                   const Run& run)
    : m_slice(radiusPx.width(), radiusPx.height()), m_behind(radiusPx.width(), radiusPx.height()),
      m_blocks((radiusPx.width() + blockSize - 1) / blockSize,
               (radiusPx.height() + blockSize - 1) / blockSize)
{
    const Run quiet{run.threads, {}, run.stop};
    parallelFor(m_blocks.height(), quiet, [&](int blockRow) {
        const int endY = std::min((blockRow + 1) * blockSize, height());
        for (int y = blockRow * blockSize; y < endY; ++y) {
            for (int x = 0; x < width(); ++x) {
                if (coverage.at(x, y) <= 0.0F) continue;
                const SliceGrid::Place place = grid.place(radiusPx.at(x, y));
                m_slice.at(x, y) = static_cast<std::uint8_t>(place.slice);
                m_behind.at(x, y) = place.behind;
                auto& bits = m_blocks.at(x / blockSize, blockRow);
                if (place.behind < 1.0F) bits.set(static_cast<std::size_t>(place.slice));
                if (place.behind > 0.0F) bits.set(static_cast<std::size_t>(place.slice) + 1);
            }
        }
    });
}

void SliceMap::shares(int slice, int y, int x0, int x1, float* share) const noexcept
{
    const std::uint8_t* rung = m_slice.row(y);
    const float* behind = m_behind.row(y);
    for (int x = x0; x < x1; ++x)
        share[x - x0] = rung[x] == slice ? 1.0F - behind[x] : rung[x] + 1 == slice ? behind[x] : 0.0F;
}

SliceMap::Box SliceMap::find(int slice, Box where) const noexcept
{
    where = {std::max(where.x0, 0), std::max(where.y0, 0), std::min(where.x1, width()),
             std::min(where.y1, height())};
    if (where.empty()) return {};
    Box found{width(), height(), 0, 0};
    for (int by = where.y0 / blockSize; by <= (where.y1 - 1) / blockSize; ++by) {
        for (int bx = where.x0 / blockSize; bx <= (where.x1 - 1) / blockSize; ++bx) {
            if (!m_blocks.at(bx, by).test(static_cast<std::size_t>(slice))) continue;
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
