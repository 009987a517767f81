#pragma once

#include "core/defocus/defocus.h"
#include "core/defocus/edge_repair.h"
#include "core/defocus/iris_kernel.h"
#include "core/defocus/layered_picture.h"
#include "core/defocus/slice_map.h"

#include <vector>

namespace retinex::defocus {

/// A layer of surfaces sorted onto the slices.
struct SortedLayer
{
    const SurfaceLayer& surface;
    SliceMap map;
};

/// What all tiles of a frame share.
struct GatherInput
{
    int width = 0;
    int height = 0;
    const std::vector<SortedLayer>& layers; ///< a slice holds its pixels of all of them
    const SliceGrid& grid;
    const std::vector<IrisKernel>& kernels; ///< one per slice of the grid
    FrameEdge frameEdge = FrameEdge::continuePicture;
};

/// Spreads and gathers all slices that reach one tile. Keeps its buffers between tiles; one per thread.
class TileGather
{
public:
    using Box = SliceMap::Box;

    /// Writes the pixels of `tile` (half open, inside the picture) of both groups of `out`.
    void run(const GatherInput& input, const Box& tile, LayeredPicture& out);

private:
    static constexpr int kEvidence = RgbaImage::channels;
    static constexpr int kCoverage = kEvidence + 1;
    static constexpr int kChannels = kCoverage + 1; ///< R, G, B, A, evidence, coverage

    void gatherSlice(const GatherInput& input, int slice, const Box& tile, const Box& source, Layer& group);
    void sumRows(const GatherInput& input, int slice, const Box& source);
    void addRow(const SortedLayer& layer, int slice, int y, const Box& source);
    [[nodiscard]] int spreadRow(const IrisKernel& kernel, int y, const Box& tile, const Box& source,
                                int& endX);
    void addWithinBudget(const GatherInput& input, int slice, int y, int firstX, int endX, const Box& tile,
                         Layer& group);

    double* prefixRow(int row, int channel) noexcept
    {
        return m_prefix.data() +
               (static_cast<std::size_t>(row) * kChannels + static_cast<std::size_t>(channel)) *
                   static_cast<std::size_t>(m_prefixStride);
    }
    double* sums(int channel) noexcept
    {
        return m_sums.data() + static_cast<std::size_t>(channel) * static_cast<std::size_t>(m_tileWidth);
    }

    std::vector<double> m_prefix; ///< running sums of the source rows, per channel
    int m_prefixStride = 0;
    int m_prefixX = 0; ///< x of the first entry of a prefix row
    std::vector<float> m_share;
    std::vector<float> m_values;  ///< one source row of the slice, per channel
    std::vector<Box> m_rowExtent; ///< x0, x1 of each source row's pixels in the slice
    std::vector<double> m_sums;
    int m_tileWidth = 0;
};

} // namespace retinex::defocus
