#pragma once

#include "core/image/image.h"

#include <memory>

namespace retinex {

/// What other frames of a sequence show of what one frame hides: at each pixel the nearest surface behind the
/// visible one. All planes have the frame's size.
struct SeenBehind
{
    RgbaImage colour;      ///< scene-linear, premultiplied; of no meaning where weight is 0
    Plane<float> distance; ///< planar, scene units
    Plane<float> weight;   ///< 0..1: how much of it was seen and agrees; 0: nothing

    SeenBehind() = default;
    SeenBehind(int width, int height) : colour(width, height), distance(width, height), weight(width, height)
    {
    }
};
using SeenBehindPtr = std::shared_ptr<const SeenBehind>;

} // namespace retinex
