#pragma once

#include "core/defocus/lens/cats_eye.h"
#include "core/defocus/lens/iris_kernel.h"
#include "core/defocus/spread/slice_sums.h"
#include "core/defocus/spread/span_kernels.h"

#include <array>
#include <vector>

namespace retinex::defocus {

/// Spreads one slice over one tile with its iris: with running sums along its rows, a row of the iris costs
/// two interpolated look-ups for a whole row of output. Slices of large radius are summed down to cells
/// first, and what comes out is interpolated between them.
class SliceSpread
{
public:
    using Box = SliceMap::Box;
    /// What arrives in a row: R, G, B, A, evidence, coverage, and the share of the light that comes from
    /// inside the frame (null: all). Several may point to the same numbers.
    static constexpr int inside = SpreadChannels::most;
    using Rows = std::array<const float*, SpreadChannels::most + 1>;

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
        bool goesOn = false; ///< beyond the picture, with what is at its edge
        const std::stop_token& stop;
    };

    /// Sums the slice's pixels that reach the tile; false when there are none. Throws Cancelled.
    bool begin(const Slice& slice, const Box& tile);
    /// The part of the tile that anything can arrive in.
    [[nodiscard]] const Box& reached() const noexcept { return m_reached; }
    /// What arrives in row y of that part; false when nothing does. Valid until the next call.
    bool row(const Slice& slice, int y, Rows& rows);

private:
    bool spreadRow(const Slice& slice, int cellY, float* to);
    void addSpans(const std::vector<IrisKernel::RowSpan>& spans, int cellY, int from, int to, float* sums);
    template <class Real>
    void addSpansAs(const std::vector<IrisKernel::RowSpan>& spans, int cellY, int from, int to,
                    std::vector<Span<Real>>& reaching, Real* sums);
    void spreadCells(const Slice& slice);
    const float* widened(int row, int cell);
    void fillInside(const Slice& slice, int cellY, float* to) const;

    /// Of a row of the tile: those told apart, and the share from inside.
    [[nodiscard]] int rowChannels() const noexcept
    {
        return m_sums.channels().count() + (m_nearFrameEdge ? 1 : 0);
    }

    SliceSums m_sums;
    Box m_reached;
    Box m_outCells; ///< cells that are computed: those reached, and one more around where they are
                    ///< interpolated
    Box m_source;   ///< cells that hold pixels of the slice within reach
    int m_outWidth = 0;
    bool m_nearFrameEdge = false;
    std::vector<double> m_brightSums;
    std::vector<Span<float>> m_spans; ///< those that reach a row
    std::vector<Span<double>> m_brightSpans;
    std::vector<float> m_out;   ///< one row of what is reached, per channel
    std::vector<float> m_cells; ///< the spread slice, in cells
    std::vector<unsigned char> m_cellRowUsed;
    /// Rows of cells pixel by pixel: the two that lie around the row of pixels.
    struct Wide
    {
        int row = -1;
        std::vector<float> values;
    };
    std::array<Wide, 2> m_wide;
    std::vector<IrisKernel::RowSpan> m_clipped;
};

} // namespace retinex::defocus
