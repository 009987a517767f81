#pragma once

#include "core/defocus/cats_eye.h"
#include "core/defocus/defocus.h"
#include "core/defocus/glint_spread.h"
#include "core/defocus/layered_picture.h"
#include "core/defocus/slice_spread.h"

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
    std::stop_token stop; ///< looked at before each slice: a tile of large discs takes its time
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

    SliceSpread m_spread;
    GlintSpread m_glints;
};

} // namespace retinex::defocus
