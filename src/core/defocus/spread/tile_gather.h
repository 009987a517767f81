#pragma once

#include "core/defocus/defocus.h"
#include "core/defocus/glints/glint_spread.h"
#include "core/defocus/lens/cats_eye.h"
#include "core/defocus/spread/slice_spread.h"
#include "core/defocus/surfaces/layered_picture.h"

#include <array>
#include <vector>

namespace retinex::defocus {

/// What all tiles of a frame share.
struct GatherInput
{
    int width = 0;
    int height = 0;
    const std::vector<SortedLayer>& layers; ///< a slice holds its pixels of all of them
    const SliceGrid& grid;
    const std::vector<IrisKernel>& kernels; ///< one per slice of the grid, in its cells
    const GlintList& glints;
    const CatsEye& catsEye;
    FrameEdge frameEdge = FrameEdge::continuePicture;
    std::stop_token stop; ///< looked at again and again: a tile of large discs takes its time
};

/// Spreads and gathers all slices that reach one tile. Keeps its buffers between tiles; one per thread.
class TileGather
{
public:
    using Box = SliceMap::Box;
    /// Tiles start at multiples of this.
    static constexpr int alignment = SliceGrid::largestCell;

    /// Writes the pixels of `tile` (half open, inside the picture) of both groups of `out`. Throws Cancelled.
    void run(const GatherInput& input, const Box& tile, LayeredPicture& out);

private:
    void gatherSlice(const GatherInput& input, int slice, const Box& tile, LayeredPicture& out);
    void claim(Layer& group, const Box& tile, const std::stop_token& stop);

    /// How the front group covered the tile before each of the last slices. Slices that are neighbours hold
    /// parts of the same surface and do not hide each other.
    class Nearer
    {
    public:
        void begin(const Box& tile);
        /// Before a slice is added.
        void keep(int slice, const Plane<float>& coverage);
        /// Coverage, from pixel (x, y) of the tile on, by slices that are no neighbours of the one that was
        /// kept last.
        [[nodiscard]] const float* from(int x, int y) const;

    private:
        static constexpr int kNeighbours = 1;
        struct Kept
        {
            int slice = 0;
            std::vector<float> coverage; ///< row after row of the tile
        };
        Box m_tile;
        std::array<Kept, kNeighbours + 1> m_kept; ///< a ring
        std::size_t m_count = 0;                  ///< since begin
        const Kept* m_chosen = nullptr;
    };

    const Layer* m_claimed = nullptr; ///< what was written to last in this tile
    SliceSpread m_spread;
    GlintSpread m_glints;
    Nearer m_nearer;
};

} // namespace retinex::defocus
