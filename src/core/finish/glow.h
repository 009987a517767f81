#pragma once

#include "core/finish/step.h"

namespace retinex::finish {

/// The light of a picture that glows: colour c becomes w * tint * (grey + saturation * (c - grey)), with w
/// rising from 0 to 1 by 3t^2 - 2t^3 of t = 1/2 + log2(max(c) / level) / softness, held to 0..1, times
/// `mask` where that is not empty (as large as the picture). Grey is the luminance of Rec. ITU-R BT.709-6. At
/// half the size each pixel is the mean of four.
[[nodiscard]] RgbaImage glowingLight(const RgbaImage& picture, const Glow& glow, const Plane<float>& mask,
                                     bool isHalfSize, const Run& run);

/// A sum of three Gaussians that together keep the light there is: standard deviations of 1/8, 1/4 and 1/2 of
/// `radiusPx`, weighed (1 - t)^2, 2t(1 - t) and t^2 by the tail t. Beyond 3 radii there is nothing. At the
/// picture's edges light is mirrored. In place, of R, G and B; a wide one takes no longer than a narrow one.
/// `knownVariance`, px^2, is spread already.
void scatter(RgbaImage& light, double radiusPx, double tail, const Run& run, double knownVariance = 0.0);

/// A glow before its amount.
struct Scattered
{
    RgbaImage light;
    bool isHalfSize = false; ///< a wide one needs no more
};
[[nodiscard]] Scattered glowOf(const Canvas& canvas, const Glow& glow, const Plane<float>& mask,
                               const Run& run);

/// Lays a glow g over the picture c: c + a g; c + a g - min(c, 1) min(a g, 1), held to no less than c, for
/// screen (W3C, "Compositing and Blending Level 1", 10.1.2, for light up to 1); max(c, a g) for lighten.
void addGlow(Canvas& canvas, const Scattered& scattered, const Glow& glow, const Run& run);

} // namespace retinex::finish
