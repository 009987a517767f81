#pragma once

#include "core/base/image.h"
#include "core/base/run.h"

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
    Layer front;                            ///< in front of the focal plane, its glints included
    Layer back;                             ///< from the focal plane back, without its glints
    std::array<Plane<float>, 3> backGlints; ///< R, G, B; as bright as they are, not to be normalised

    /// All empty.
    LayeredPicture(int width, int height, const Run& run)
    {
        constexpr int group = RgbaImage::channels + 1;
        parallelFor(2 * group + 3, run, [&](int index) { // touching fresh memory takes its time
            Layer& layer = index < group ? front : back;
            const int plane = index % group;
            Plane<float>& made = index >= 2 * group            ? backGlints[static_cast<std::size_t>(plane)]
                                 : plane < RgbaImage::channels ? layer.colour.plane(plane)
                                                               : layer.coverage;
            made = Plane<float>(width, height);
        });
    }
};

} // namespace retinex::defocus
