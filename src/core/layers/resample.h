#pragma once

#include "core/base/image.h"
#include "core/base/pixel_box.h"
#include "core/base/run.h"
#include "core/regions/placement.h"

namespace retinex::layers {

/// A picture laid into a frame: the pixels of a box within it.
struct Laid
{
    PixelBox box;
    RgbaImage colour; ///< premultiplied
};

/// `picture` (premultiplied) laid by `placement`, which takes its px to those of the frame; what lies beyond
/// `frame` is left out. Its edge covers each pixel exactly (addPolygon). Between pixels by OpenCV: cubic
/// where it is enlarged; where it shrinks, from pictures of half, a quarter, ... of the size (means of
/// areas), mixed by how far it shrinks at each place. Pixel on pixel it is copied as it is.
[[nodiscard]] Laid laidInto(const RgbaImage& picture, const regions::Homography& placement,
                            const PixelBox& frame, const Run& run);

} // namespace retinex::layers
