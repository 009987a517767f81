#pragma once

#include "core/image/image.h"

/// How near a picture is to the traced one. Colour only, on x / (1 + x) then to the power 1/2.2.
namespace retinex::bench {

struct Quality
{
    double psnr = 0.0;        ///< dB, whole frame
    double psnrEdge = 0.0;    ///< dB, within 12 px of depth edges
    double ssim = 0.0;        ///< whole frame, mean over channels
    double falseDetail = 0.0; ///< mean over the same band; see falseDetail()
    double falseShare = 0.0;  ///< share of its pixels that have more than 0.02
    double grain = 0.0;       ///< grainOf() behind rims, over that of the truth; where it was asked for
};

/// Pixels within `reachPx` (Chebyshev) of a depth edge: neighbours whose distances differ by more than 5 %,
/// or of which one is a gap. 1 inside, 0 outside.
[[nodiscard]] Plane<float> edgeBand(const Plane<float>& distance, int reachPx = 12);

/// What is sharper than anything near it may be: slopes (3 x 3 Sobel / 8, the largest of R, G and B)
/// beyond 1.1 times the largest of the traced picture within 5 x 5, less 0.004.
[[nodiscard]] Plane<float> falseDetail(const RgbaImage& picture, const RgbaImage& truth);

/// What is seen through the rims of things in front of the focal plane, where all behind them is guessed:
/// pixels a third of their radius to all of it inside an outline. 1 there, 0 elsewhere.
[[nodiscard]] Plane<float> behindRims(const Plane<float>& radiusPx);

/// Mean length of the second differences there, across 4 px either way of the mean of 3 x 3: 0 of what is
/// smooth, more where there are rims, blots and stripes.
[[nodiscard]] double grainOf(const RgbaImage& picture, const Plane<float>& where);

/// SSIM after Wang et al., "Image Quality Assessment: From Error Visibility to Structural Similarity", IEEE
/// Transactions on Image Processing 13(4), 2004: Gaussian window of sigma 1.5, K1 = 0.01, K2 = 0.03.
[[nodiscard]] Quality compare(const RgbaImage& picture, const RgbaImage& truth, const Plane<float>& band);

/// Root mean square of (b - a) - (d - c), or of b - a alone where c is null: how far two frames' change is
/// from another's.
[[nodiscard]] double changeDifference(const RgbaImage& a, const RgbaImage& b, const RgbaImage* c,
                                      const RgbaImage* d);

} // namespace retinex::bench
