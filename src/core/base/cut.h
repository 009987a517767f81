#pragma once

#include "core/base/image.h"
#include "core/base/pixel_box.h"
#include "core/base/run.h"

#include <algorithm>

namespace retinex {

/// The pixels of `box`, which lies inside the plane.
template <class T>
[[nodiscard]] Plane<T> cut(const Plane<T>& plane, const PixelBox& box, const Run& run = {})
{
    Plane<T> result(box.width(), box.height());
    parallelFor(box.height(), {run.threads, {}, run.stop},
                [&](int y) { std::copy_n(plane.row(box.minY + y) + box.minX, box.width(), result.row(y)); });
    return result;
}

[[nodiscard]] inline RgbaImage cut(const RgbaImage& image, const PixelBox& box, const Run& run = {})
{
    RgbaImage result;
    for (int c = 0; c < RgbaImage::channels; ++c)
        result.plane(c) = cut(image.plane(c), box, run);
    return result;
}

} // namespace retinex
