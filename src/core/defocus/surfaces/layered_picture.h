#pragma once

#include "core/image/image.h"

#include <array>

namespace retinex::defocus {

/// A group of slices after gathering: colour as far as it is covered, and how far that is.
struct Layer
{
    RgbaImage colour;      ///< multiplied by coverage
    Plane<float> coverage; ///< 0..1

    Layer() = default;
    Layer(int width, int height) : colour(width, height), coverage(width, height) {}
};

/// What tiles are gathered into.
struct LayeredPicture
{
    Layer front;                        ///< in front of the focal plane, without glints
    Layer back;                         ///< from the focal plane back, likewise
    std::array<Plane<float>, 3> glints; ///< R, G, B as they reach the picture, past all that is before them

    /// All empty.
    LayeredPicture(int width, int height) : front(width, height), back(width, height)
    {
        for (auto& plane : glints)
            plane = Plane<float>(width, height);
    }
};

} // namespace retinex::defocus
