#pragma once

#include "core/defocus/defocus.h"

/// Commonplace ways of doing the same job, as yardsticks in the same run.
namespace retinex::bench {

/// Each output pixel is the mean over the disc of its own CoC.
[[nodiscard]] RgbaImage gather(const RgbaImage& colour, const Plane<float>& radiusPx, const Run& run = {});

/// One OpenCV filter2D (by FFT for large kernels) per slice of nearly constant radius, laid over each other
/// from back to front with "over", as one scripts it with general libraries. The slices' radii are those of
/// the engine.
[[nodiscard]] RgbaImage slicesByFft(const RgbaImage& colour, const Plane<float>& radiusPx,
                                    const optics::Iris& iris);

} // namespace retinex::bench
