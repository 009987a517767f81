#pragma once

#include "core/defocus/slices/slice_grid.h"
#include "core/defocus/surfaces/surfaces.h"
#include "core/image/image.h"
#include "core/system/run.h"

#include <algorithm>
#include <bitset>
#include <cstdint>
#include <vector>

namespace retinex::defocus {

/// All that there are: visible, hidden, between, third. `surfaces` must outlive them.
template <class SurfacesType>
[[nodiscard]] auto layersOf(SurfacesType& surfaces)
{
    std::vector layers{&surfaces.visible, &surfaces.hidden};
    for (auto& layer : surfaces.between)
        layers.push_back(&layer);
    if (surfaces.third) layers.push_back(&*surfaces.third);
    return layers;
}

/// The ladder that holds all radii of the surfaces.
[[nodiscard]] SliceGrid gridFor(const Surfaces& surfaces, const Run& run = {});

/// Which slices each pixel belongs to, and a coarse index of which slices occur where.
class SliceMap
{
public:
    static constexpr int blockSize = 32;

    /// Pixels whose coverage is 0 belong to no slice.
    SliceMap(const SurfaceLayer& surface, const SliceGrid& grid, const Run& run);

    [[nodiscard]] int width() const noexcept { return m_slice.width(); }
    [[nodiscard]] int height() const noexcept { return m_slice.height(); }

    /// Of row y: the rung in front of each pixel, and its share of the rung behind that one.
    [[nodiscard]] const std::uint8_t* rungs(int y) const noexcept { return m_slice.row(y); }
    [[nodiscard]] const float* behind(int y) const noexcept { return m_behind.row(y); }

    struct Box
    {
        int x0 = 0, y0 = 0, x1 = 0, y1 = 0; ///< half open
        [[nodiscard]] bool empty() const noexcept { return x0 >= x1 || y0 >= y1; }
        [[nodiscard]] Box united(const Box& other) const noexcept
        {
            if (empty() || other.empty()) return empty() ? other : *this;
            return {std::min(x0, other.x0), std::min(y0, other.y0), std::max(x1, other.x1),
                    std::max(y1, other.y1)};
        }
    };
    /// A box within `where` (clipped to the picture) that holds all of its pixels of `slice`; to the block.
    [[nodiscard]] Box find(int slice, Box where) const noexcept;

    /// Whether any of a block's pixels belongs to `slice`; block (0, 0) is the picture's first.
    [[nodiscard]] bool has(int slice, int blockX, int blockY) const noexcept
    {
        return m_blocks.at(blockX, blockY).test(static_cast<std::size_t>(slice));
    }
    /// What holds for all pixels of the slice in the blocks that touch `where` (inside the picture).
    struct Kind
    {
        bool isOpaque = true; ///< alpha is as large as evidence
        bool isSeen = true;   ///< evidence is as large as coverage
    };
    [[nodiscard]] Kind kind(int slice, const Box& where) const noexcept;

    /// As Plane::forgetRows.
    void forgetRows(int known, int end) noexcept
    {
        m_slice.forgetRows(known, end);
        m_behind.forgetRows(known, end);
    }

private:
    using Slices = std::bitset<SliceGrid::maxSlices>;

    Plane<std::uint8_t> m_slice; ///< the rung in front of the pixel
    Plane<float> m_behind;       ///< share of the rung behind
    // Of each block, the slices with any pixel in it:
    Plane<Slices> m_blocks;
    Plane<Slices> m_clear;   ///< that is not opaque
    Plane<Slices> m_guessed; ///< that is not wholly seen
};

} // namespace retinex::defocus
