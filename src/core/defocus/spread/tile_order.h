#pragma once

#include "core/defocus/lens/iris_kernel.h"
#include "core/defocus/slices/slice_map.h"
#include "core/defocus/spread/slice_sums.h"

#include <atomic>
#include <mutex>
#include <vector>

namespace retinex::defocus {

/// The tiles of a picture from the top down, each for whoever asks next. Rows of the surfaces are given back
/// to the system as soon as no tile is left that their light reaches: what has been gathered takes their
/// place. Thread-safe.
class TileOrder
{
public:
    using Box = SliceMap::Box;

    /// All of it must outlive the order. `kernels`: one per slice of the grid. `sidePx`: of the tiles; 0: by
    /// the picture's size.
    TileOrder(Surfaces& surfaces, std::vector<SortedLayer>& sorted, const std::vector<IrisKernel>& kernels,
              const SliceGrid& grid, int sidePx);

    [[nodiscard]] int count() const noexcept { return m_columns * static_cast<int>(m_left.size()); }
    /// The next that nobody has; to be asked for `count` times at most.
    [[nodiscard]] Box take() noexcept;
    void done(const Box& tile) noexcept;

private:
    void forget(int known, int end) noexcept;

    struct Size
    {
        int width = 0;
        int height = 0;

        static Size of(int pictureWidth, int pictureHeight);
        [[nodiscard]] int columns(int pictureWidth) const { return (pictureWidth + width - 1) / width; }
        [[nodiscard]] int rows(int pictureHeight) const { return (pictureHeight + height - 1) / height; }
    };

    Surfaces& m_surfaces;
    std::vector<SortedLayer>& m_sorted;
    int m_width;
    int m_height;
    Size m_tile;
    int m_columns;
    int m_reach = 0; ///< px, of the light of any slice
    std::atomic<int> m_next = 0;
    std::mutex m_mutex;
    std::vector<int> m_left; ///< tiles of each row of them
    std::size_t m_firstLeft = 0;
    int m_forgotten = 0; ///< rows of the picture
};

} // namespace retinex::defocus
