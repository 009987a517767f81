#pragma once

#include "core/defocus/slices/slice_map.h"
#include "core/defocus/surfaces/surfaces.h"

#include <algorithm>
#include <array>
#include <limits>
#include <stop_token>
#include <vector>

namespace retinex::defocus {

/// A layer of surfaces sorted onto the slices.
struct SortedLayer
{
    const SurfaceLayer& surface;
    SliceMap map;
};

/// The six numbers that a pixel spreads, and which of them are told apart: where all that is spread together
/// is opaque, alpha is evidence, and where nothing is guessed, evidence is coverage.
class SpreadChannels
{
public:
    enum Channel { red, green, blue, alpha, evidence, coverage };
    static constexpr int most = 6;

    SpreadChannels() = default;
    explicit SpreadChannels(const SliceMap::Kind& kind);

    [[nodiscard]] int count() const noexcept { return m_count; } ///< of those told apart
    /// Where the number stands among those told apart.
    [[nodiscard]] int place(int channel) const noexcept { return m_place[static_cast<std::size_t>(channel)]; }
    /// A row of one of those told apart.
    [[nodiscard]] const float* row(const SurfaceLayer& surface, int place, int y) const;

private:
    int m_count = most;
    std::array<int, most> m_place{0, 1, 2, 3, 4, 5};
    std::array<int, most> m_channel{0, 1, 2, 3, 4, 5}; ///< at each place
};

/// Running sums along the rows of one slice's pixels, in cells, for the part of it that reaches a tile.
class SliceSums
{
public:
    using Box = SliceMap::Box;

    struct Source
    {
        const std::vector<SortedLayer>& layers;
        int slice = 0;
        int cell = 1;
        int width = 0; ///< of the picture
        int height = 0;
        bool goesOn = false; ///< beyond the picture is what is at its edge; else nothing
        const std::stop_token& stop;
    };

    /// Sums the pixels in the box of cells; a row of sums begins at the cell `firstX` and has `stride`
    /// entries. Throws Cancelled.
    void build(const Source& source, const Box& cells, int firstX, int stride);

    [[nodiscard]] const SpreadChannels& channels() const noexcept { return m_channels; }
    /// Whether the sums are in double precision: in single precision they are enough, and half the work,
    /// unless the slice is very bright somewhere.
    [[nodiscard]] bool isBright() const noexcept { return m_isBright; }
    /// The cells [from, to) that hold anything in row y of cells; empty in rows beyond the box.
    struct Extent
    {
        int from = 0;
        int to = 0;
        [[nodiscard]] bool empty() const noexcept { return from >= to; }
    };
    [[nodiscard]] Extent extent(int y) const noexcept
    {
        const int row = rowFor(y);
        return row < m_cells.y0 || row >= m_cells.y1 ? Extent{}
                                                     : m_extents[static_cast<std::size_t>(row - m_cells.y0)];
    }
    /// Entry for cell x of row y of the first channel: the sum of all cells before x. Channels are stride()
    /// apart.
    template <class Real>
    [[nodiscard]] const Real* at(int x, int y) const noexcept
    {
        return sums<Real>().data() + rowAt(rowFor(y)) + (x - m_firstX);
    }
    [[nodiscard]] int stride() const noexcept { return m_stride; }

private:
    template <class Real>
    [[nodiscard]] const std::vector<Real>& sums() const noexcept
    {
        if constexpr (std::is_same_v<Real, float>)
            return m_single;
        else
            return m_double;
    }
    /// Beyond the picture, where it goes on, that at its edge.
    [[nodiscard]] int rowFor(int y) const noexcept { return std::clamp(y, m_firstRow, m_lastRow); }
    [[nodiscard]] std::size_t rowAt(int y) const noexcept
    {
        return static_cast<std::size_t>((y - m_cells.y0) * m_channels.count()) *
               static_cast<std::size_t>(m_stride);
    }
    template <class Real>
    void sumAs(const Source& source, std::vector<Real>& sums);
    template <class Real, int Count>
    void sumRow(const Extent& extent, Real* sums);
    template <class Real>
    bool goOn(Real* sums, int endOfPicture) const;
    void goOnWithinCell(int endOfPicture, int cell, Extent& pixels);
    Extent collect(const Source& source, int cellY);
    void addRow(const Source& source, const SortedLayer& layer, int y, Extent& extent);
    void joinRows(int cell, const Extent& pixels);

    SpreadChannels m_channels;
    Box m_cells;
    int m_firstX = 0;
    int m_firstRow = 0; ///< rows before it are like it
    int m_lastRow = 0;  ///< rows behind it likewise
    int m_stride = 0;
    bool m_isBright = false;
    double m_brightRow = 0.0; ///< from which sum on a row is bright
    std::vector<float> m_single;
    std::vector<double> m_double;
    std::vector<Extent> m_extents;
    std::vector<float> m_values; ///< one row of cells, channel after channel
    int m_valueStride = 0;
};

} // namespace retinex::defocus
