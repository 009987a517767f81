#pragma once

#include "core/image/image.h"
#include "core/system/run.h"

#include <initializer_list>

namespace retinex {

/// Whoever is the first to write to a large plane's memory waits until the system has cleared it, a
/// millisecond or more. Waits for `planes` at a pixel, one plane after the other, so that a stop is heard
/// between them. Changes nothing. Throws Cancelled.
inline void touchMemory(std::initializer_list<Plane<float>*> planes, int x, int y,
                        const std::stop_token& stop)
{
    for (Plane<float>* plane : planes) {
        throwIfStopped(stop);
        volatile float& value = plane->at(x, y);
        value = value;
    }
}

inline void touchMemory(RgbaImage& colour, std::initializer_list<Plane<float>*> planes, int x, int y,
                        const std::stop_token& stop)
{
    touchMemory({&colour.plane(0), &colour.plane(1), &colour.plane(2), &colour.plane(3)}, x, y, stop);
    touchMemory(planes, x, y, stop);
}

} // namespace retinex
