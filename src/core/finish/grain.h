#pragma once

#include "core/finish/step.h"

/// Grain: noise that depends on the pixel of the frame, the frame and the seed alone, so that parts, threads
/// and machines agree, and that never repeats.
namespace retinex::finish {

/// What one grain spreads to its neighbours: a disc under a Gaussian, of softness 1 the Gaussian alone, as
/// large as makes noise that is half alike (autocorrelation 1/2) at 0.404 sizePx, as discs of that diameter
/// are. A square of odd size; its squares sum to 1. One pixel at the least.
[[nodiscard]] Plane<float> grainKernel(double sizePx, double softness);

/// Noise of mean 0 and standard deviation 1, one plane a colour, for the pixels of `box`: white noise spread
/// by the kernel, mixed so that any two colours correlate by 1 - colour^2. Gaussian, or even between -sqrt(3)
/// and sqrt(3).
[[nodiscard]] std::array<Plane<float>, 3> grainNoise(const Grain& grain, int frame, const PixelBox& box,
                                                     const Run& run);

/// The amount at a tone, on the scale of ACEScct: shadows up to 5 stops below mid grey, midtones at it,
/// highlights from 3.5 stops above, linear in between.
[[nodiscard]] double grainAmount(const Grain& grain, double tone) noexcept;

/// In place: y + amount(y) * noise on the scale of ACEScct, times what keeps the mean of the light as it is
/// (that of a normal distribution after the scale's inverse). Light of half transparent pixels gets its share
/// of it.
void addGrain(Canvas& canvas, const Grain& grain, int frame, const Run& run);

/// ACEScct, Academy S-2016-001, and its inverse.
[[nodiscard]] float toTone(float light) noexcept;
[[nodiscard]] float fromTone(float tone) noexcept;

} // namespace retinex::finish
