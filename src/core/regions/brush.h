#pragma once

#include "core/image/image.h"
#include "core/regions/placement.h"
#include "core/system/run.h"

namespace retinex::regions {

/// How much a brush covers at `distance` px from the middle of its way: 1 up to (1 - softness) of its radius,
/// 0 from the radius on, between them 1 - s^2 (3 - 2 s) for s from 0 to 1 across the soft piece, which is 1
/// px wide at least.
[[nodiscard]] double brushProfile(double distance, double radiusPx, double softness) noexcept;

/// Paints strokes, laid onto the frame by `placement`, over what is covered. `left`, `top`: the place of the
/// plane's corner.
void addStrokes(const std::vector<Stroke>& strokes, const Homography& placement, int left, int top,
                Plane<float>& coverage, const Run& run = {});

} // namespace retinex::regions
