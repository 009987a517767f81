#pragma once

#include "core/image/image.h"
#include "core/image/pixel_box.h"
#include "core/system/run.h"

#include <algorithm>

namespace retinex {

/// The pixels of `box`, which lies inside the plane.
template <class T>
[[nodiscard]] Plane<T> cropped(const Plane<T>& plane, const PixelBox& box, const Run& run = {})
{
    Plane<T> result(box.width(), box.height());
    parallelFor(box.height(), {run.threads, {}, run.stop},
                [&](int y) { std::copy_n(plane.row(box.minY + y) + box.minX, box.width(), result.row(y)); });
    return result;
}

[[nodiscard]] inline RgbaImage cropped(const RgbaImage& image, const PixelBox& box, const Run& run = {})
{
    RgbaImage result;
    for (int c = 0; c < RgbaImage::channels; ++c)
        result.plane(c) = cropped(image.plane(c), box, run);
    return result;
}

} // namespace retinex
