#pragma once

#include "core/defocus/lens/iris_opening.h"

#include <vector>

namespace retinex::defocus {

/// How a kernel is made from an iris.
struct KernelShape
{
    double radiusPx = 0.0;   ///< signed: negative is in front of the focal plane and turned over
    double widthScale = 1.0; ///< scales the disc's width (pixel aspect)
    int cell = 1;            ///< px per cell: the kernel is in cells of this size, a power of two
    bool edgeTables = true;  ///< needed for massInside
};

/// The disc of one radius as a stack of row spans. A source cell spreads `weight` per cell of width over
/// [lo, hi] (continuous, in cells from its centre) of the row `dy` below it. The whole sums to 1. Several
/// spans may lie in a row: a rim is drawn as outlines within each other.
///
/// The outline's area is that of the circle of the same radius; the discrete kernel would come out too wide
/// by a cell's own extent (and by what sampling down to cells and up again adds), so the outline is shrunk
/// until its variance is that of the ideal disc (r^2 / 4 for a circle). At radius 0 it is one pixel.
class IrisKernel
{
public:
    struct RowSpan
    {
        int dy = 0;
        double lo = 0.0;
        double hi = 0.0;
        double weight = 0.0;
    };

    IrisKernel(const IrisOpenings& openings, const KernelShape& shape);
    /// For single kernels; many share their openings.
    IrisKernel(const optics::Iris& iris, const KernelShape& shape);

    /// In the order of dy.
    [[nodiscard]] const std::vector<RowSpan>& rows() const noexcept { return m_rows; }
    [[nodiscard]] int reachX() const noexcept { return m_reachX; } ///< cells beyond the centre cell
    [[nodiscard]] int reachY() const noexcept { return m_reachY; }
    /// Radius of the outline as drawn, in cells; the unit of optics::ClipCircle.
    [[nodiscard]] double drawnRadius() const noexcept { return m_drawnRadius; }
    [[nodiscard]] double widthScale() const noexcept { return m_widthScale; }

    /// Share of the light that output cell (x, y) would get from sources inside a frame of the given size,
    /// were they all alike: 1 far from the frame's edges.
    [[nodiscard]] double massInside(int x, int y, int width, int height) const noexcept;

private:
    void buildEdgeTables();
    [[nodiscard]] double cutShare(const std::vector<double>& table, int distance, int firstRow,
                                  int endRow) const noexcept;

    std::vector<RowSpan> m_rows;
    int m_reachX = 0;
    int m_reachY = 0;
    double m_drawnRadius = 0.0;
    double m_widthScale = 1.0;
    std::vector<int> m_firstOfRow;  ///< first span of each dy from the first one on, and the end
    std::vector<double> m_rowMass;  ///< running sums over spans
    std::vector<double> m_leftCut;  ///< [distance][span]: running sums of what a left frame edge cuts off
    std::vector<double> m_rightCut; ///< same, right
};

} // namespace retinex::defocus
