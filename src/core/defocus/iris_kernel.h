#pragma once

#include "core/optics/iris.h"

#include <vector>

namespace retinex::defocus {

/// The disc of one radius as a stack of row spans. A source pixel spreads `weight` per px of width over
/// [lo, hi] (continuous, in px from its centre) of the row `dy` below it. The whole sums to 1.
///
/// The outline's area is that of the circle of the same radius; within a pixel of width the discrete kernel
/// would come out too wide by the pixel's own extent, so the outline is shrunk until its variance is that of
/// the ideal disc (r^2 / 4 for a circle). At radius 0 it is one pixel.
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

    /// `radiusPx` is signed: negative is in front of the focal plane and turned over. `widthScale` scales the
    /// disc's width (pixel aspect).
    IrisKernel(const optics::Iris& iris, double radiusPx, double widthScale = 1.0);

    [[nodiscard]] const std::vector<RowSpan>& rows() const noexcept { return m_rows; }
    [[nodiscard]] int reachX() const noexcept { return m_reachX; } ///< px beyond the centre pixel
    [[nodiscard]] int reachY() const noexcept { return m_reachY; }

    /// Share of the light that output pixel (x, y) would get from sources inside a frame of the given size,
    /// were they all alike: 1 far from the frame's edges.
    [[nodiscard]] double massInside(int x, int y, int width, int height) const noexcept;

private:
    void buildEdgeTables();
    [[nodiscard]] double cutShare(const std::vector<double>& table, int distance, int firstRow,
                                  int endRow) const noexcept;

    std::vector<RowSpan> m_rows;
    int m_reachX = 0;
    int m_reachY = 0;
    std::vector<double> m_rowMass;  ///< running sums over rows
    std::vector<double> m_leftCut;  ///< [distance][row]: running sums of what a left frame edge cuts off
    std::vector<double> m_rightCut; ///< same, right
};

} // namespace retinex::defocus
