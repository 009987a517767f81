#pragma once

#include <algorithm>
#include <cmath>
#include <vector>

namespace retinex::defocus {

/// The fixed ladder of signed radii (px) that pixels are sorted onto, front to back: negative in front of the
/// focal plane, 0 on it, positive behind. The rungs do not depend on the picture, so they do not jump from
/// frame to frame; a pixel between two rungs is shared by both.
///
/// Rungs: steps of 0.25 from 0 to 2, then steps of 1 to 12, then steps of 12 %. There are two of radius 0:
/// the first belongs to what lies in front of the focal plane, the second to what lies from it back, so that
/// no pixel is shared by the two groups, which are gathered apart.
class SliceGrid
{
public:
    static constexpr int maxSlices = 256;
    static constexpr double maxRadiusPx = 2000.0;

    /// Covers radii up to `frontPx` in front and `backPx` behind; both are held at maxRadiusPx. `growth`:
    /// from one large rung to the next.
    SliceGrid(double frontPx, double backPx, double growth = 1.12);

    [[nodiscard]] int count() const noexcept { return static_cast<int>(m_radii.size()); }
    [[nodiscard]] double radius(int slice) const noexcept { return m_radii[static_cast<std::size_t>(slice)]; }
    /// The second slice of radius 0; slices before it lie in front of the focal plane.
    [[nodiscard]] int focalSlice() const noexcept { return m_focal; }

    /// Side of the cells, in px, that a slice is spread in: a power of two that grows with the radius, so
    /// that a disc is at least cellsPerRadius cells in radius and the work for it does not grow.
    [[nodiscard]] int cell(int slice) const noexcept;
    static constexpr double cellsPerRadius = 7.0;
    static constexpr int largestCell = 32;

    struct Place
    {
        int slice = 0;      ///< the rung in front; count() - 2 at most where there are several
        float behind = 0.F; ///< share that belongs to slice + 1, 0..1
    };
    /// Shares are linear in the square of the radius, so that the blur's variance (a disc's is r^2 / 4) comes
    /// out right between two rungs. Radii beyond the ladder are held at its ends.
    [[nodiscard]] Place place(float radiusPx) const noexcept;
    /// The same, quicker where `guess` is the right slice already: neighbours mostly share theirs.
    [[nodiscard]] Place place(float radiusPx, int guess) const noexcept
    {
        const double radius = radiusPx;
        const auto lower = static_cast<std::size_t>(guess);
        const bool isRight =
            lower + 1 < m_radii.size() && m_radii[lower] <= radius && radius < m_radii[lower + 1];
        return isRight ? placeAt(lower, radius) : place(radiusPx);
    }

private:
    [[nodiscard]] Place placeAt(std::size_t lower, double radius) const noexcept
    {
        const double scale = m_perSquare[lower];
        if (scale == 0.0)
            return {static_cast<int>(lower), 1.0F}; // on the focal plane, and nothing lies behind it
        return {static_cast<int>(lower),
                static_cast<float>(std::min(1.0, (signedSquare(radius) - m_squares[lower]) * scale))};
    }
    static double signedSquare(double v) noexcept { return v * std::abs(v); }

    std::vector<double> m_radii;
    std::vector<double> m_squares;   ///< signed
    std::vector<double> m_perSquare; ///< 1 / difference to the next; 0 where there is none
    int m_focal = 0;
};

} // namespace retinex::defocus
