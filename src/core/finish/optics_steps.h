#pragma once

#include "core/finish/step.h"

/// What lenses do besides blur.
namespace retinex::finish {

/// How far red that comes out at a place was moved outwards (and blue inwards), px: corner * s, where s is
/// the place's distance from the centre over that of the corner farthest from it, squared where it grows so.
/// The mean over the wavelengths of a colour; these run evenly from one colour to the next (triangles that
/// overlap by half), so that there are no hard copies.
[[nodiscard]] double fringePx(const Fringing& fringing, double x, double y, double frameWidth,
                              double frameHeight);

/// How far beyond its own place a pixel is made of others, px.
[[nodiscard]] int fringeReach(const Fringing& fringing) noexcept;

/// In place; beyond the canvas the picture goes on as at its edge.
void addFringing(Canvas& canvas, const Fringing& fringing, const Run& run);

/// 2 ^ (-stops * v), with v = 3t^2 - 2t^3 of t = (r - (1 - softness)) / softness held to 0..1, where r is the
/// distance from the middle: 1 at the corner, along an ellipse as the frame is (roundness 0) up to a circle
/// (1).
[[nodiscard]] double vignetteFactor(const Vignette& vignette, double x, double y, double frameWidth,
                                    double frameHeight);
void addVignette(Canvas& canvas, const Vignette& vignette, const Run& run);

} // namespace retinex::finish
