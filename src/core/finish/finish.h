#pragma once

#include "core/finish/step.h"

namespace retinex::finish {

/// The part of the frame at this size that `wanted` is made of: with a glow all of it, with fringing more
/// than it (beyond the frame, where there is overscan).
[[nodiscard]] PixelBox neededFor(const Steps& steps, const PixelBox& wanted, int frameWidth, int frameHeight);

/// `wanted` of the finished picture; the canvas holds what neededFor says of it, as far as there is any. The
/// same in parts, and for any thread count. Numbers that are none become 0, infinite light the largest half
/// (65504); alpha stays as it is. Throws Error (see colour_steps.h) or Cancelled.
[[nodiscard]] RgbaImage finished(Canvas canvas, const PixelBox& wanted, const Steps& steps,
                                 const Sources& sources, const Run& run = {});

} // namespace retinex::finish
