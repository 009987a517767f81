#pragma once

#include "core/image/image.h"
#include "core/image/pixel_box.h"
#include "core/regions/placement.h"
#include "core/system/run.h"

namespace retinex::inserts {

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

} // namespace retinex::inserts
