#pragma once

#include "core/image/image.h"

#include <algorithm>
#include <limits>

namespace retinex::test {

/// The distance of gaps.
inline constexpr float kInf = std::numeric_limits<float>::infinity();

/// One opaque colour: `value` in R, G and B.
inline RgbaImage filled(int width, int height, float value)
{
    RgbaImage image(width, height);
    for (int c = 0; c < RgbaImage::channels; ++c)
        std::fill(image.plane(c).pixels().begin(), image.plane(c).pixels().end(), c == 3 ? 1.0F : value);
    return image;
}

} // namespace retinex::test
