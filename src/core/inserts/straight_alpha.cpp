#include "core/inserts/straight_alpha.h"

#include <algorithm>
#include <cmath>

namespace retinex::inserts {

bool looksUnmultiplied(const RgbaImage& picture)
{
    const Plane<float>& alpha = picture.plane(3);
    const auto light = [&](int x, int y) {
        return std::max({picture.plane(0).at(x, y), picture.plane(1).at(x, y), picture.plane(2).at(x, y)});
    };
    double asMultiplied = 0.0; // how far soft pixels are from what they would be
    double asNot = 0.0;
    int found = 0;
    for (int y = 1; y + 1 < picture.height(); ++y)
        for (int x = 1; x + 1 < picture.width(); ++x) {
            const float a = alpha.at(x, y);
            if (a < 0.1F || a > 0.75F) continue;
            float beside = 0.0F;
            int opaque = 0;
            for (int v = y - 1; v <= y + 1; ++v)
                for (int u = x - 1; u <= x + 1; ++u)
                    if (alpha.at(u, v) > 0.98F) {
                        beside += light(u, v);
                        ++opaque;
                    }
            if (opaque == 0 || beside <= 1e-4F) continue;
            const double ratio = static_cast<double>(light(x, y) * static_cast<float>(opaque) / beside);
            asMultiplied += std::min(1.0, std::abs(ratio - static_cast<double>(a)));
            asNot += std::min(1.0, std::abs(ratio - 1.0));
            ++found;
        }
    return found >= 8 && asNot < asMultiplied;
}

RgbaImage multipliedByAlpha(RgbaImage picture, const Run& run)
{
    parallelFor(picture.height(), {run.threads, {}, run.stop}, [&](int y) {
        const float* alpha = picture.plane(3).row(y);
        for (int c = 0; c < 3; ++c) {
            float* row = picture.plane(c).row(y);
            for (int x = 0; x < picture.width(); ++x)
                row[x] *= alpha[x];
        }
    });
    return picture;
}

} // namespace retinex::inserts
