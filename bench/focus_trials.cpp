#include "bench/focus_trials.h"

#include "bench/measure.h"
#include "bench/peers.h"
#include "bench/probe.h"
#include "core/defocus/defocus.h"
#include "core/depth/depth_reading.h"
#include "reference/greenhouse.h"
#include "reference/scenes.h"
#include "reference/shapes.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace retinex::bench {

namespace {

/// Sums of squared differences of vertical neighbours, in bins of radius.
std::vector<double> contrastOf(const RgbaImage& picture, const Plane<float>& radius, double mostPx, int bins)
{
    std::vector<double> sum(static_cast<std::size_t>(bins));
    std::vector<double> count(sum.size());
    constexpr int margin = 12; // the frame's edge is another matter
    for (int y = margin; y + 1 + margin < radius.height(); ++y) {
        for (int x = margin; x + margin < radius.width(); ++x) {
            const double place = (static_cast<double>(radius.at(x, y)) / mostPx + 1.0) * 0.5 * bins;
            if (place < 0.0 || place >= bins) continue;
            const auto d = static_cast<double>(picture.plane(1).at(x, y + 1) - picture.plane(1).at(x, y));
            sum[static_cast<std::size_t>(place)] += d * d;
            count[static_cast<std::size_t>(place)] += 1.0;
        }
    }
    for (std::size_t i = 0; i < sum.size(); ++i)
        sum[i] = count[i] > 0.0 ? std::sqrt(sum[i] / count[i]) : 0.0;
    return sum;
}

} // namespace

std::vector<Sharpness> tiltedPlane(int width, int samples, double mostPx, int bins)
{
    reference::Scene scene;
    const int object = scene.addObject("");
    const int board =
        scene.addMaterial({{0.9F, 0.9F, 0.9F}, {0.1F, 0.1F, 0.1F}, reference::Pattern::speckle, 160.F, {}});
    // In 1/distance the radius runs evenly across the picture, as a tilted plane's does.
    scene.add(reference::beam({-3.2F, 0.F, -1.0F}, {3.2F, 0.F, -3.4F}, 2.4F, {board, object}));
    scene.setAmbient({1.F, 1.F, 1.F}, {1.F, 1.F, 1.F});
    scene.commit();
    const reference::Camera camera{{0.F, 0.F, 0.F}, {0.F, 0.F, -1.F}, 50.F, 36.F, width, width * 9 / 16};
    const auto passes = reference::renderPasses(scene, camera, 256);
    const auto distance = depth::toDistance(passes.depth).distance;
    reference::LensSampling lens;
    lens.samples = samples;
    lens.mostRounds = 16;
    lens.focusDistance = static_cast<double>(distance.at(width / 2, distance.height() / 2));
    const auto largest = [&](double fStop) {
        lens.fStop = fStop;
        const auto radius = defocus::blurRadiusPx(distance, reference::engineSettings(camera, lens));
        const auto [low, high] = std::minmax_element(radius.pixels().begin(), radius.pixels().end());
        return std::max(std::abs(static_cast<double>(*low)), static_cast<double>(*high));
    };
    lens.fStop = largest(1.0) / mostPx;
    const auto settings = reference::engineSettings(camera, lens);
    const auto radius = defocus::blurRadiusPx(distance, settings);
    const auto ours = contrastOf(defocus::defocus({passes.colour, distance}, settings), radius, mostPx, bins);
    const auto traced = contrastOf(reference::renderLens(scene, camera, lens), radius, mostPx, bins);
    std::vector<Sharpness> profile;
    for (int i = 0; i < bins; ++i) {
        const auto index = static_cast<std::size_t>(i);
        if (traced[index] > 0.0)
            profile.push_back({mostPx * ((i + 0.5) / bins * 2.0 - 1.0), ours[index], traced[index]});
    }
    return profile;
}

Drift driftingCamera(int width, int samples, int frames)
{
    using Pictures = std::array<RgbaImage, 5>; // traced, ours, gather, FFT, probe
    Drift drift;
    Pictures before;
    for (int frame = 1; frame <= frames; ++frame) {
        reference::GreenhouseFrame built = reference::makeGreenhouse(frame);
        built.camera.width = width;
        built.camera.height = width * 9 / 16;
        reference::LensSampling lens{1.4, reference::GreenhouseFrame::stemDistance, {}, samples, 16};
        const auto passes = reference::renderPasses(built.scene, built.camera, 256);
        const auto distance = depth::toDistance(passes.depth).distance;
        const auto settings = reference::engineSettings(built.camera, lens);
        const auto radius = defocus::blurRadiusPx(distance, settings);
        Pictures now{reference::renderLens(built.scene, built.camera, lens),
                     defocus::defocus({passes.colour, distance}, settings), gather(passes.colour, radius),
                     slicesByFft(passes.colour, radius, settings.iris),
                     probe(passes.colour, radius, settings.iris)};
        if (frame > 1) {
            const double share = 1.0 / (frames - 1);
            drift.traced += share * changeDifference(before[0], now[0], nullptr, nullptr);
            drift.ours += share * changeDifference(before[1], now[1], &before[0], &now[0]);
            drift.gather += share * changeDifference(before[2], now[2], &before[0], &now[0]);
            drift.fft += share * changeDifference(before[3], now[3], &before[0], &now[0]);
            drift.probe += share * changeDifference(before[4], now[4], &before[0], &now[0]);
        }
        before = std::move(now);
    }
    return drift;
}

} // namespace retinex::bench
