#pragma once

#include "core/image/image.h"
#include "core/image/pixel_box.h"

namespace retinex::finish {

/// A picture and where it lies: a part of the frame, all of it, or more where there is overscan.
struct Canvas
{
    RgbaImage image;
    PixelBox box;       ///< of its pixels, px of the frame at this size
    int frameWidth = 0; ///< at this size
    int frameHeight = 0;
    int divisor = 1; ///< the frame is at 1/divisor of its size
};

} // namespace retinex::finish
