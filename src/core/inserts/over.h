#pragma once

#include "core/image/image.h"
#include "core/image/lens_layer.h"
#include "core/inserts/insert.h"
#include "core/system/run.h"

/// Pictures that are laid in, as they are seen without a lens.
namespace retinex::inserts {

/// Light of an insert brought onto a surface: blended with what is below, as far as that covers (source-atop
/// of W3C's Compositing, 9.8). `light` is premultiplied and as large as `below`.
void paintOnto(RgbaImage& below, const RgbaImage& light, Blend blend, BlendScale scale, const Run& run);

/// Everything over everything, nearest first; `distance` is the scene's.
[[nodiscard]] RgbaImage flattened(const RgbaImage& scene, const Plane<float>& distance,
                                  const std::vector<LensLayer>& layers, const Run& run);

/// Distances of what is seen: where a layer covers by one half and is nearer than the scene, or the scene is
/// open. `alpha` is the scene's; `gaps` follow. Planes as large as the layers.
void mergeDistances(const std::vector<LensLayer>& layers, const Plane<float>& alpha, Plane<float>& distance,
                    Plane<std::uint8_t>& gaps);

} // namespace retinex::inserts
