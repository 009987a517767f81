#include "core/finish/grain_plate.h"

#include "core/image/srgb.h"
#include "core/inserts/blend.h"

#include <algorithm>
#include <cmath>

namespace retinex::finish {

int plateFrame(const GrainPlate& plate, int frame, int first, int last) noexcept
{
    const long long count = static_cast<long long>(last) - first + 1;
    if (count <= 1) return first;
    const long long round = 2 * count - 2;
    long long at = (static_cast<long long>(frame) - plate.offset - first) % round;
    if (at < 0) at += round;
    return static_cast<int>(first + (at < count ? at : round - at));
}

void addPlate(Canvas& canvas, const GrainPlate& plate, const RgbaImage& picture, const Run& run)
{
    const auto gain = static_cast<float>(std::exp2(plate.exposureStops));
    const auto amount = static_cast<float>(plate.amount);
    parallelFor(canvas.image.height(), run, [&](int y) {
        const float* alpha = canvas.image.plane(3).row(y);
        const int fromY = std::clamp(canvas.box.minY + y, 0, picture.height() - 1);
        for (int c = 0; c < 3; ++c) {
            float* row = canvas.image.plane(c).row(y);
            for (int x = 0; x < canvas.image.width(); ++x) {
                const float a = alpha[x] > 1e-4F ? std::min(alpha[x], 1.0F) : 1.0F;
                if (row[x] == 0.0F && alpha[x] <= 1e-4F) continue;
                const int fromX = std::clamp(canvas.box.minX + x, 0, picture.width() - 1);
                const float grain = std::clamp(toSrgb(gain * picture.plane(c).at(fromX, fromY)), 0.0F, 1.0F);
                const float below = toSrgb(row[x] / a);
                const float above = plate.blend == inserts::Blend::add
                                        ? below + grain - 0.5F
                                        : inserts::blended(plate.blend, below, grain);
                row[x] = a * fromSrgb(below + amount * (above - below));
            }
        }
    });
}

const Step kPlate{"plate", "Grain plate", "A filmed grain picture laid over.",
                  [](const Steps& steps) { return steps.hasPlate(); },
                  [](Canvas& canvas, const Steps& steps, const Sources& sources, const Run& run) {
                      if (!sources.plate.empty()) addPlate(canvas, steps.finish.plate, sources.plate, run);
                  }};

} // namespace retinex::finish
