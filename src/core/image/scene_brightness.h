#pragma once

#include "core/image/deep_picture.h"
#include "core/image/image.h"

namespace retinex {

/// How bright a picture is as a rule, scene-linear: the mean of the logarithms of its pixels' brightness (the
/// largest of R, G and B), each weighted by the square root of it, the brightest twentieth as if they were no
/// brighter than the rest, so that neither black grounds nor lamps count for much. (A log-average is what
/// Reinhard et al., "Photographic Tone Reproduction for Digital Images", SIGGRAPH 2002, call the key of a
/// scene; the weights are ours.) In proportion to exposure, and as steady from frame to frame. 0 for a
/// picture that is black but for a twentieth. One pixel of sixteen is looked at, of a large picture one of
/// more.
[[nodiscard]] double sceneBrightness(const RgbaImage& colour);
/// Of what a deep picture shows.
[[nodiscard]] double sceneBrightness(const DeepPicture& deep);

} // namespace retinex
