#pragma once

#include "core/finish/colour_steps.h"

namespace retinex::finish {

/// What the steps take besides the picture.
struct Sources
{
    int frame = 1;
    Quality quality = Quality::exact;
    std::vector<Plane<float>> glowMasks; ///< of each glow, for the frame at this size; empty: all of it
    RgbaImage plate;                     ///< of grain, for the frame at this size; empty: none
};

/// The part of the frame at this size that `wanted` is made of: with a glow all of it, with fringing more
/// than it (beyond the frame, where there is overscan).
[[nodiscard]] PixelBox neededFor(const Steps& steps, const PixelBox& wanted, int frameWidth, int frameHeight);

/// `wanted` of the finished picture; the canvas holds what neededFor says of it, as far as there is any. The
/// same in parts, and for any thread count. Numbers that are none become 0, infinite light the largest half
/// (65504); alpha stays as it is. Throws Error (see ColourSteps::make) or Cancelled.
[[nodiscard]] RgbaImage finished(Canvas canvas, const PixelBox& wanted, const Steps& steps,
                                 const Sources& sources, const Run& run = {});

} // namespace retinex::finish
