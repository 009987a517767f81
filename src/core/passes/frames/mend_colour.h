#pragma once

#include "core/image/image.h"

/// Colour as files hold it is made safe for what follows.
namespace retinex::passes {

/// No light is taken brighter than this (or darker than its negative): sums and squares of it stay finite
/// over any picture. The sun's disc is at some 1e5 times a lit sheet of paper (common practice).
constexpr float kMostLight = 1e9F;

struct MendedColour
{
    std::size_t bad = 0;  ///< pixels with NaN or infinite colour or alpha
    std::size_t held = 0; ///< pixels with light beyond kMostLight
};

/// Pixels that are not finite become the mean of those around them, ring by ring; within a large area of
/// them, black and open. Light is held to kMostLight and alpha to 0..1.
MendedColour mendColour(RgbaImage& image);

} // namespace retinex::passes
