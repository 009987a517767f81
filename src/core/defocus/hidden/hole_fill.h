#pragma once

#include "core/defocus/surfaces/layered_picture.h"
#include "core/system/run.h"

#include <vector>

namespace retinex::defocus {

/// Normalises a layer by its coverage and fills its holes from a push-pull pyramid: averages weighted by
/// coverage at half the size, again and again, each level filling what the finer one leaves open.
/// Source: Gortler et al., "The Lumigraph", SIGGRAPH 1996, section 3.4.
class HoleFill
{
public:
    HoleFill(Layer&& layer, double reachPx, const Run& run);

    /// Fills row y of colour(), once, and tells its support: 0..1, 1 where something of the layer lies within
    /// about `reachPx`. Rows may be filled at once.
    void fillRow(int y, float* support);
    /// Normalised by coverage in the rows that were filled.
    [[nodiscard]] RgbaImage& colour() noexcept { return m_layer.colour; }

private:
    Layer m_layer;
    std::vector<Layer> m_levels; ///< at half the size and less, complete as far as they can be
    Plane<float> m_present;      ///< how far the layer is there, in pixels about the reach wide
    float m_presentScale = 1.0F; ///< px of `m_present` in one of the layer
};

} // namespace retinex::defocus
