#pragma once

#include "core/base/image.h"
#include "core/base/run.h"

#include <initializer_list>

namespace retinex {

/// Whoever is the first to write to a large plane's memory waits until the system has cleared it, a
/// millisecond or more. Waits for `colour` and `planes` at a pixel, one plane after the other, so that a stop
/// is heard between them. Changes nothing. Throws Cancelled.
inline void claimMemory(RgbaImage& colour, std::initializer_list<Plane<float>*> planes, int x, int y,
                        const std::stop_token& stop)
{
    const auto claim = [&](Plane<float>& plane) {
        throwIfStopped(stop);
        volatile float& value = plane.at(x, y);
        value = value;
    };
    for (int c = 0; c < RgbaImage::channels; ++c)
        claim(colour.plane(c));
    for (Plane<float>* plane : planes)
        claim(*plane);
}

} // namespace retinex
