#pragma once

#include "core/base/run.h"
#include "core/defocus/layered_picture.h"

namespace retinex::defocus {

/// A layer with its holes filled from around them.
struct FilledLayer
{
    RgbaImage colour;     ///< normalised by coverage everywhere
    Plane<float> support; ///< 0..1: 1 where something of the layer lies within about `reachPx`
};

/// Normalises `layer` by its coverage and fills holes from a push-pull pyramid: averages weighted by coverage
/// at half the size, again and again, each level filling what the finer one leaves open.
/// Source: Gortler et al., "The Lumigraph", SIGGRAPH 1996, section 3.4.
[[nodiscard]] FilledLayer fillHoles(Layer&& layer, double reachPx, const Run& run);

} // namespace retinex::defocus
