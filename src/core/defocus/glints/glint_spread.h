#pragma once

#include "core/defocus/glints/glints.h"
#include "core/defocus/lens/cats_eye.h"
#include "core/defocus/slices/slice_map.h"

namespace retinex::defocus {

/// Spreads the glints over one tile: each row of a disc is a step up and a step down, summed
/// along the row at the end. Costs the disc's height a glint, at any radius.
class GlintSpread
{
public:
    using Box = SliceMap::Box;

    /// True when any light arrives in the tile.
    bool spread(const GlintList& list, const CatsEye& catsEye, const Box& tile, const std::stop_token& stop);

    [[nodiscard]] bool hasRow(int y) const noexcept { return m_touched[static_cast<std::size_t>(y)] != 0; }
    /// Adds the light of row y of the tile (from its corner on) to `to`, one row a channel.
    void addRow(int y, const std::array<float*, 3>& to);

private:
    void addDisc(const Glint& glint, const std::vector<IrisKernel::RowSpan>& spans, const Box& tile);
    double* steps(int row, int channel) noexcept
    {
        return m_steps.data() + static_cast<std::size_t>((row * 3 + channel) * m_stride);
    }

    std::vector<double> m_steps; ///< differences between neighbours; double, so that a lamp leaves no trace
    std::vector<unsigned char> m_touched;
    std::vector<IrisKernel::RowSpan> m_clipped;
    int m_stride = 0;
    int m_width = 0;
};

} // namespace retinex::defocus
