#include "core/finish/finish.h"

#include <algorithm>
#include <array>

namespace retinex::finish {

namespace {

constexpr float kMostLight = 65504.0F; ///< of a half

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

constexpr std::array<const Step*, 7> kSteps{&kGlow, &kFringing, &kVignette, &kGrade,
                                            &kLook, &kGrain,    &kPlate};

} // namespace

std::span<const Step* const> allSteps()
{
    return kSteps;
}

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

bool Steps::any() const
{
    return finish.isOn && finish.mix > 0.0 &&
           std::ranges::any_of(kSteps, [this](const Step* step) { return step->isUsed(*this); });
}

PixelBox neededFor(const Steps& steps, const PixelBox& wanted, int frameWidth, int frameHeight)
{
    if (!steps.any()) return wanted;
    PixelBox needed = wanted;
    for (const Step* step : kSteps)
        if (step->needs && step->isUsed(steps)) needed = step->needs(steps, needed, frameWidth, frameHeight);
    return needed;
}

RgbaImage finished(Canvas canvas, const PixelBox& wanted, const Steps& steps, const Sources& sources,
                   const Run& run)
{
    if (!steps.any()) return cropped(std::move(canvas.image), canvas.box, wanted);
    makeFinite(canvas.image, run);
    const RgbaImage unfinished =
        steps.finish.mix < 1.0 ? cropped(canvas.image, canvas.box, wanted) : RgbaImage();
    for (const Step* step : kSteps) {
        if (!step->isUsed(steps)) continue;
        run.throwIfStopped();
        if (!step->needs && canvas.box != wanted) { // nothing beyond is needed any more
            canvas.image = cropped(std::move(canvas.image), canvas.box, wanted);
            canvas.box = wanted;
        }
        step->apply(canvas, steps, sources, run);
    }
    canvas.image = cropped(std::move(canvas.image), canvas.box, wanted);
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
