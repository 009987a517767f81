#pragma once

#include "core/defocus/lens/blur_radius.h"
#include "core/defocus/surfaces/surfaces.h"
#include "core/image/lens_layer.h"
#include "core/system/run.h"

#include <vector>

namespace retinex::defocus {

/// Adds further pictures to one that is taken apart. What is there so far covers as much as its alpha says:
/// where it is open the light of edges has been taken apart from nothing, and what lies behind is seen
/// through it. The layers come as surfaces with their own radii; behind all of them is nothing, alpha 0.
///
/// Surfaces that others hide go on behind them only within reach of where these end; of two that the lens
/// blurs alike (by less than half a pixel's difference) the hidden part of the farther one is left out.
///
/// `gain` is that of the surfaces' light.
void addLayers(Surfaces& surfaces, const std::vector<LensLayer>& layers, const BlurModel& model, float gain,
               HiddenFill fill, const Run& run);

} // namespace retinex::defocus
