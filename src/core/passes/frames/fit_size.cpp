#include "core/passes/frames/fit_size.h"

#include <algorithm>
#include <cstdint>

namespace retinex::passes {

Plane<float> fitted(const Plane<float>& plane, int width, int height, SizeFit fit, float outside)
{
    Plane<float> result(width, height, outside);
    for (int y = 0; y < height; ++y) {
        for (int x = 0; x < width; ++x) {
            int sx = x + (plane.width() - width) / 2;
            int sy = y + (plane.height() - height) / 2;
            if (fit == SizeFit::scale) {
                // The source pixel under this pixel's centre.
                sx = static_cast<int>((2LL * x + 1) * plane.width() / (2LL * width));
                sy = static_cast<int>((2LL * y + 1) * plane.height() / (2LL * height));
            }
            if (plane.contains(sx, sy)) result.at(x, y) = plane.at(sx, sy);
        }
    }
    return result;
}

} // namespace retinex::passes
