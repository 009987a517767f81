#pragma once

#include "core/defocus/surfaces/surfaces.h"

namespace retinex::defocus {

/// How much of a pixel may show what lies behind the focal plane, past the surfaces in front of it.
///
/// Discs of one surface add up to less than the whole wherever the square of its radius curves down (a
/// column, a ball, a floor that ends at the frame: by a quarter of the Laplacian of the CoC's variance), and
/// that is no opening. Through the lens something passes a surface only where the disc about the pixel
/// reaches beyond its outline: of a disc of radius r, at a distance d from all outlines, at most
/// 1 - (d / r)^2. r is the largest of the blocks around, since an outline may lie nearer to the lens.
class FrontOpening
{
public:
    /// `visible` may change or go afterwards.
    FrontOpening(const SurfaceLayer& visible, const Run& run);

    /// The shares of row y, 0..1; null where all is open.
    [[nodiscard]] const float* row(int y) const noexcept
    {
        return m_share.empty() ? nullptr : m_share.row(y);
    }

private:
    Plane<float> m_share;
};

} // namespace retinex::defocus
