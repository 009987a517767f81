#include "bench/other_trials.h"

#include "bench/reading_scenes.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

namespace retinex::bench {

OtherTrial otherTrial(const OtherScene& scene, int width, int samples, const std::filesystem::path& cache)
{
    OtherLensPictures pictures = otherLensPictures(scene, width, samples, cache);
    const auto passes = othersScene(scene, width, cache);
    OtherTrial trial{std::move(pictures.sharp), passes->distance, {}, std::move(pictures.blurred)};
    for (float& z : trial.distance.pixels())
        if (z <= 0.0F) z = std::numeric_limits<float>::infinity();
    for (RgbaImage* image : {&trial.colour, &trial.truth})
        std::ranges::fill(image->plane(3).pixels(), 1.0F);
    // A pinhole that is given an opening keeps its framing. A unit is a metre, as good as any.
    const double tangent = std::tan(scene.fieldOfViewDeg * std::numbers::pi / 360.0);
    trial.settings.lens.focalLengthMm = 0.5 * trial.settings.sensorWidthMm / tangent;
    trial.settings.lens.fStop =
        trial.settings.lens.focalLengthMm / (scene.lens->diameter * trial.settings.millimetresPerUnit);
    trial.settings.lens.focusDistanceMm = scene.lens->focus * trial.settings.millimetresPerUnit;
    trial.settings.lens.framing = optics::Framing::rendered;
    return trial;
}

} // namespace retinex::bench
