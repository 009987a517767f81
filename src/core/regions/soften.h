#pragma once

#include "core/image/image.h"
#include "core/system/run.h"

/// What is done to the edge of an area.
namespace retinex::regions {

/// Moves the edge (where coverage passes one half) outward by so many px, or inward where they are below 0.
/// Its rim is one px wide afterwards. By exact distances (Felzenszwalb and Huttenlocher, 2012, "Distance
/// Transforms of Sampled Functions").
void grow(Plane<float>& coverage, double px, const Run& run);

/// The mean over three boxes of half the width each, one after the other: an edge fades smoothly over `px`,
/// half of it to each side. Beyond the plane it goes on as at its rim.
void feather(Plane<float>& coverage, double px, const Run& run);

/// Pulls a faded edge onto the edges of `distance` within `px`: the guided filter of He, Sun and Tang (2013,
/// "Guided Image Filtering"), guided by the logarithm of distance; +inf counts as the farthest there is.
void followEdges(Plane<float>& coverage, const Plane<float>& distance, double px, const Run& run);

} // namespace retinex::regions
