#pragma once

#include "core/colour/colorimetry.h"
#include "core/finish/finish_steps.h"

/// White balance: daylight's chromaticities (CIE 15:2004, 3.1) from 5000 K up, Krystek's Planckian locus
/// (Color Research and Application 10, 1985) below 4000 K, evenly in between; Bradford's chromatic adaptation
/// (ICC.1:2010, annex E) of that white to D65.
namespace retinex::finish {

using colour::Chromaticity;
using colour::Matrix;

constexpr double kCoolestK = 1700.0;
constexpr double kHottestK = 25000.0;

/// CIE 1931 x, y of a light.
[[nodiscard]] Chromaticity whiteOf(const WhiteBalance& balance);
/// The light under which scene-linear `rgb` is neutral. Of black, or what no light of that range looks like,
/// the nearest one.
[[nodiscard]] WhiteBalance balanceFor(const std::array<double, 3>& rgb);
/// Takes scene-linear R, G, B to those under a neutral light.
[[nodiscard]] Matrix balanceMatrix(const WhiteBalance& balance);

} // namespace retinex::finish
