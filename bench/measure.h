#pragma once

#include "core/base/image.h"

/// How near a picture is to the traced one. Colour only, on x / (1 + x) then to the power 1/2.2.
namespace retinex::bench {

struct Quality
{
    double psnr = 0.0;     ///< dB, whole frame
    double psnrEdge = 0.0; ///< dB, within 12 px of depth edges
    double ssim = 0.0;     ///< whole frame, mean over channels
};

/// Pixels within `reachPx` (Chebyshev) of a depth edge: neighbours whose distances differ by more than 5 %,
/// or of which one is a gap. 1 inside, 0 outside.
[[nodiscard]] Plane<float> edgeBand(const Plane<float>& distance, int reachPx = 12);

/// SSIM after Wang et al., "Image Quality Assessment: From Error Visibility to Structural Similarity", IEEE
/// Transactions on Image Processing 13(4), 2004: Gaussian window of sigma 1.5, K1 = 0.01, K2 = 0.03.
[[nodiscard]] Quality compare(const RgbaImage& picture, const RgbaImage& truth, const Plane<float>& band);

} // namespace retinex::bench
