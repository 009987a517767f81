#pragma once

#include "core/image/image.h"
#include "core/system/run.h"

#include <algorithm>

/// Planes at 1/divisor of the size, rounded up; the last row and column may stand for less.
namespace retinex {

/// One value of each block, near its middle: for what must not be blended.
template <class T>
[[nodiscard]] Plane<T> picked(const Plane<T>& full, int divisor)
{
    const int width = (full.width() + divisor - 1) / divisor;
    const int height = (full.height() + divisor - 1) / divisor;
    Plane<T> small(width, height);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x)
            small.at(x, y) = full.at(std::min(x * divisor + divisor / 2, full.width() - 1),
                                     std::min(y * divisor + divisor / 2, full.height() - 1));
    return small;
}

/// The mean of each block.
[[nodiscard]] inline Plane<float> averaged(const Plane<float>& full, int divisor)
{
    Plane<float> small((full.width() + divisor - 1) / divisor, (full.height() + divisor - 1) / divisor);
    parallelFor(small.height(), {}, [&](int y) {
        const int y1 = std::min((y + 1) * divisor, full.height());
        for (int x = 0; x < small.width(); ++x) {
            const int x1 = std::min((x + 1) * divisor, full.width());
            float sum = 0.0F;
            for (int sy = y * divisor; sy < y1; ++sy)
                for (int sx = x * divisor; sx < x1; ++sx)
                    sum += full.at(sx, sy);
            small.at(x, y) = sum / static_cast<float>((y1 - y * divisor) * (x1 - x * divisor));
        }
    });
    return small;
}

} // namespace retinex
