#include "core/finish/finish.h"

#include "core/finish/glow.h"
#include "core/finish/grain.h"
#include "core/finish/grain_plate.h"
#include "core/finish/optics_steps.h"

#include <algorithm>
#include <cmath>

namespace retinex::finish {

namespace {

constexpr float kMostLight = 65504.0F; ///< of a half

void makeFinite(RgbaImage& image, const Run& run)
{
    for (int c = 0; c < 3; ++c)
        parallelFor(image.height(), run, [&](int y) {
            float* row = image.plane(c).row(y);
            for (int x = 0; x < image.width(); ++x) {
                const float value = row[x] == row[x] ? row[x] : 0.0F; // NaN differs from itself
                row[x] = std::min(std::max(value, -kMostLight), kMostLight);
            }
        });
}

RgbaImage cropped(RgbaImage image, const PixelBox& from, const PixelBox& to)
{
    if (from.minX == to.minX && from.minY == to.minY && from.width() == to.width() &&
        from.height() == to.height())
        return image;
    RgbaImage result(to.width(), to.height());
    for (int c = 0; c < RgbaImage::channels; ++c)
        for (int y = 0; y < to.height(); ++y)
            std::copy_n(image.plane(c).row(y + to.minY - from.minY) + to.minX - from.minX, to.width(),
                        result.plane(c).row(y));
    return result;
}

/// A mask of the frame for the pixels of a canvas; beyond the frame as at its edge.
Plane<float> maskFor(const Canvas& canvas, const Plane<float>& mask)
{
    if (mask.empty()) return {};
    Plane<float> result(canvas.image.width(), canvas.image.height());
    for (int y = 0; y < result.height(); ++y)
        for (int x = 0; x < result.width(); ++x)
            result.at(x, y) = mask.at(std::clamp(x + canvas.box.minX, 0, mask.width() - 1),
                                      std::clamp(y + canvas.box.minY, 0, mask.height() - 1));
    return result;
}

/// Each is of the picture as it came through the lens.
void addGlows(Canvas& canvas, const Steps& steps, const Sources& sources, const Run& run)
{
    std::vector<Scattered> lights(steps.glows.size());
    for (std::size_t i = 0; i < steps.glows.size(); ++i) {
        if (!isUsed(steps.glows[i])) continue;
        run.throwIfStopped();
        const Plane<float> mask =
            i < sources.glowMasks.size() ? maskFor(canvas, sources.glowMasks[i]) : Plane<float>();
        lights[i] = glowOf(canvas, steps.glows[i], mask, run);
    }
    for (std::size_t i = 0; i < steps.glows.size(); ++i)
        if (isUsed(steps.glows[i])) addGlow(canvas, lights[i], steps.glows[i], run);
}

} // namespace

PixelBox neededFor(const Steps& steps, const PixelBox& wanted, int frameWidth, int frameHeight)
{
    if (!steps.any()) return wanted;
    PixelBox needed = wanted;
    if (steps.hasGlow())
        needed = {std::min(0, wanted.minX), std::min(0, wanted.minY), std::max(frameWidth - 1, wanted.maxX),
                  std::max(frameHeight - 1, wanted.maxY)};
    if (steps.hasFringing()) {
        const int reach = fringeReach(steps.finish.fringing);
        needed = {needed.minX - reach, needed.minY - reach, needed.maxX + reach, needed.maxY + reach};
    }
    return needed;
}

RgbaImage finished(Canvas canvas, const PixelBox& wanted, const Steps& steps, const Sources& sources,
                   const Run& run)
{
    if (!steps.any()) return cropped(std::move(canvas.image), canvas.box, wanted);
    makeFinite(canvas.image, run);
    const RgbaImage unfinished =
        steps.finish.mix < 1.0 ? cropped(canvas.image, canvas.box, wanted) : RgbaImage();
    if (steps.hasGlow()) addGlows(canvas, steps, sources, run);
    run.throwIfStopped();
    if (steps.hasFringing()) addFringing(canvas, steps.finish.fringing, run);
    // What follows takes each pixel by itself.
    canvas.image = cropped(std::move(canvas.image), canvas.box, wanted);
    canvas.box = wanted;
    run.throwIfStopped();
    if (steps.hasVignette()) addVignette(canvas, steps.finish.vignette, run);
    if (steps.hasGrade() || steps.hasLook()) {
        ColourSteps::make(steps, sources.quality)->apply(canvas, run);
        if (steps.hasGrain() || steps.hasPlate()) makeFinite(canvas.image, run);
    }
    run.throwIfStopped();
    if (steps.hasGrain()) addGrain(canvas, steps.finish.grain, sources.frame, run);
    if (steps.hasPlate() && !sources.plate.empty()) addPlate(canvas, steps.finish.plate, sources.plate, run);
    if (!unfinished.empty()) {
        const auto mix = static_cast<float>(steps.finish.mix);
        for (int c = 0; c < 3; ++c)
            for (std::size_t i = 0; i < unfinished.plane(c).size(); ++i) {
                const float was = unfinished.plane(c).pixels()[i];
                float& is = canvas.image.plane(c).pixels()[i];
                is = was + mix * (is - was);
            }
    }
    makeFinite(canvas.image, run);
    return std::move(canvas.image);
}

} // namespace retinex::finish
