#pragma once

#include "core/defocus/cats_eye.h"
#include "core/defocus/edge_repair.h"
#include "core/defocus/slice_map.h"

#include <array>
#include <vector>

namespace retinex::defocus {

/// A layer of surfaces sorted onto the slices.
struct SortedLayer
{
    const SurfaceLayer& surface;
    SliceMap map;
};

/// Spreads one slice over one tile with its iris: with running sums along its rows, a row of the iris costs
/// two interpolated look-ups for a whole row of output. Slices of large radius are summed down to cells
/// first, and what comes out is interpolated between them.
class SliceSpread
{
public:
    using Box = SliceMap::Box;
    static constexpr int evidence = RgbaImage::channels;
    static constexpr int coverage = evidence + 1;
    static constexpr int inside = coverage + 1;   ///< share of the light that comes from inside the frame
    static constexpr int channels = coverage + 1; ///< R, G, B, A, evidence, coverage
    using Rows = std::array<float*, channels + 1>;

    struct Slice
    {
        const std::vector<SortedLayer>& layers;
        int number = 0;
        const IrisKernel& kernel;
        int cell = 1;
        bool turnedOver = false;
        const CatsEye& catsEye;
        int width = 0; ///< of the picture
        int height = 0;
    };

    /// Sums the slice's pixels that reach the tile; false when there are none.
    bool begin(const Slice& slice, const Box& tile);
    /// Rows of the tile, in picture coordinates, that anything can arrive in.
    [[nodiscard]] int firstRow() const noexcept { return m_firstRow; }
    [[nodiscard]] int endRow() const noexcept { return m_endRow; }
    /// Whether some of the disc's light would come from outside the frame.
    [[nodiscard]] bool nearFrameEdge() const noexcept { return m_nearFrameEdge; }
    /// What arrives in row y of the tile; false when nothing does. Valid until the next call.
    bool row(const Slice& slice, int y, Rows& rows);

private:
    void sumRows(const Slice& slice);
    void collectRow(const Slice& slice, int cellY, int& first, int& end);
    void addRow(const Slice& slice, const SortedLayer& layer, int y, int& first, int& end);
    bool spreadRow(const Slice& slice, int cellY);
    void addSpans(const std::vector<IrisKernel::RowSpan>& spans, int cellY, int from, int to);
    void spreadCells(const Slice& slice);
    void expandRow(const Slice& slice, int y);
    void fillInside(const Slice& slice, int cellY, float* to) const;

    template <class Real>
    void sumRowsAs(const Slice& slice, std::vector<Real>& prefixes);
    template <class Real>
    void addSpansAs(const std::vector<IrisKernel::RowSpan>& spans, int cellY, int from, int to,
                    const std::vector<Real>& prefixes, std::vector<Real>& sums);
    void copySums(int channel, float* to) const;

    [[nodiscard]] std::size_t prefixAt(int row, int channel) const noexcept
    {
        return static_cast<std::size_t>(row * channels + channel) * static_cast<std::size_t>(m_prefixStride);
    }
    float* outRow(int channel) noexcept
    {
        return m_out.data() + static_cast<std::size_t>(channel) * static_cast<std::size_t>(m_outStride);
    }
    float* cellRow(int row, int channel) noexcept
    {
        return m_cells.data() + static_cast<std::size_t>(row * (channels + 1) + channel) *
                                    static_cast<std::size_t>(m_outWidth);
    }

    Box m_tile;
    Box m_outCells; ///< cells that are computed: the tile's, and one more around where they are interpolated
    Box m_source;   ///< cells that hold pixels of the slice within reach
    int m_firstRow = 0;
    int m_endRow = 0;
    int m_outWidth = 0;
    int m_outStride = 0;
    bool m_nearFrameEdge = false;
    /// Sums in single precision are enough, and half the work, unless the slice is very bright somewhere.
    bool m_isBright = false;
    std::vector<float> m_prefix; ///< running sums of the source rows, per channel
    std::vector<double> m_brightPrefix;
    int m_prefixStride = 0;
    int m_prefixX = 0; ///< x of the first entry of a prefix row
    std::vector<float> m_share;
    std::vector<float> m_values;  ///< one source row of the slice, per channel
    std::vector<Box> m_rowExtent; ///< x0, x1 of each source row's cells in the slice
    std::vector<float> m_sums;
    std::vector<double> m_brightSums;
    std::vector<float> m_out;   ///< one row of the tile, per channel
    std::vector<float> m_cells; ///< the spread slice, in cells
    std::vector<unsigned char> m_cellRowUsed;
    std::vector<IrisKernel::RowSpan> m_clipped;
};

} // namespace retinex::defocus
