#include "core/defocus/defocus.h"

#include "core/defocus/surfaces/pixel_colour.h"

#include <algorithm>
#include <cmath>

namespace retinex::defocus {

namespace {

/// By how much light of this brightness is raised.
float glintGain(float brightness, const GlintSettings& glint)
{
    const float over = std::clamp((brightness / static_cast<float>(glint.level) - 1.0F) * 4.0F, 0.0F, 1.0F);
    if (over <= 0.0F) return 1.0F;
    return std::exp2(static_cast<float>(glint.liftStops) * over * over * (3.0F - 2.0F * over));
}

} // namespace

RgbaImage withGlintsLifted(const RgbaImage& colour, const GlintSettings& glint, const Run& run)
{
    RgbaImage lifted = colour;
    if (glint.liftStops <= 0.0) return lifted;
    parallelFor(colour.height(), {run.threads, {}, run.stop}, [&](int y) {
        for (int x = 0; x < colour.width(); ++x) {
            const float gain = glintGain(brightnessOf(colourAt(colour, x, y)), glint);
            if (gain <= 1.0F) continue;
            for (int c = 0; c < 3; ++c)
                lifted.plane(c).at(x, y) *= gain;
        }
    });
    return lifted;
}

DeepPicture withGlintsLifted(DeepPicture deep, const GlintSettings& glint)
{
    for (auto& sample : deep.samples) {
        const float gain = glintGain(brightnessOf(sample.colour) / std::max(sample.colour[3], 1e-3F), glint);
        for (std::size_t c = 0; c < 3; ++c)
            sample.colour[c] *= gain;
    }
    return deep;
}

} // namespace retinex::defocus
