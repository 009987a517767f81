#pragma once

#include "core/defocus/lens/blur_radius.h"
#include "core/defocus/repair/edge_repair.h"
#include "core/image/blur_share.h"
#include "core/image/deep_picture.h"

namespace retinex::defocus {

/// Most surfaces a pixel is taken apart into; beyond, the two most alike in radius become one.
inline constexpr int kMostDeepSurfaces = 6;

/// What a deep picture shows, taken apart into surfaces: nothing needs to be unmixed, since each sample has
/// its own distance (`deep` holds distances); a volume becomes several, along its length. Samples of a pixel
/// whose radii cannot be told apart are joined. A sample counts for what is seen of it: its alpha times the
/// transparency of those before it. Behind covered pixels surfaces are continued as edge repair does, for
/// which their light is `gain` times that of the samples (see repairEdges). `blur`: what regions do to the
/// radius of all surfaces of a pixel; null: nothing.
[[nodiscard]] Surfaces surfacesOf(const DeepPicture& deep, const BlurModel& model, const Run& run,
                                  float gain = 1.0F, const BlurShare* blur = nullptr);

} // namespace retinex::defocus
