// What finish costs: each step and all of them beside the lens's own time on the same frame.
#include "bench/timing.h"
#include "core/defocus/defocus.h"
#include "core/depth/depth_reading.h"
#include "core/finish/finish.h"
#include "reference/scenes.h"

#include <CLI/CLI.hpp>
#include <chrono>
#include <cmath>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>

namespace {

using namespace retinex;
using bench::quickest;

/// A table of 33 x 33 x 33 that bends each colour a little.
void writeCube(const std::filesystem::path& file)
{
    std::ofstream out(file);
    out << "LUT_3D_SIZE 33\n";
    for (int b = 0; b < 33; ++b)
        for (int g = 0; g < 33; ++g)
            for (int r = 0; r < 33; ++r)
                out << fmt::format("{:.5f} {:.5f} {:.5f}\n", std::pow(r / 32.0, 1.1), g / 32.0,
                                   std::pow(b / 32.0, 0.9));
}

void print(int width, int threads)
{
    auto trial = reference::makeTrial("greenhouse, can");
    trial.camera.width = width;
    trial.camera.height = width * 9 / 16;
    const auto passes = reference::renderPasses(trial.scene, trial.camera, 4);
    const auto read = depth::toDistance(passes.depth);
    defocus::LensSettings settings;
    settings.lens = {trial.camera.focalLengthMm, 1.4, 1000.0 * trial.lens.focusDistance};
    settings.blur.limitNearPx = settings.blur.limitFarPx = 30.0;
    const Run run{threads, {}, {}};
    RgbaImage picture;
    const double lens = quickest(3, [&] {
        picture = defocus::defocus({passes.colour, read.distance}, settings, run);
    });
    const auto cube = std::filesystem::temp_directory_path() / "retinex-bench-look.cube";
    writeCube(cube);

    finish::Steps all;
    all.glows.resize(2);
    all.glows[0].radius = 0.2;
    all.glows[1].radius = 0.01;
    all.finish.fringing.cornerPx = 2.0;
    all.finish.vignette.stops = 0.7;
    all.finish.grade.exposureStops = 0.2;
    all.finish.grade.white.temperatureK = 5600.0;
    all.finish.grade.contrast = 1.1;
    all.finish.grade.saturation = 1.1;
    all.finish.grade.shadows[3] = 1.1;
    all.finish.grade.curve = {{-7.0, -7.0}, {0.0, 0.2}, {7.0, 6.5}};
    all.finish.grade.cdl.slope = {1.05, 1.0, 0.95};
    all.looks.resize(1);
    all.looks[0].file = cube.string();
    all.looks[0].space = "sRGB";
    all.looks[0].strength = 0.8;
    all.finish.grain.amount = 0.02;
    fmt::print("{} x {}, blur of 30 px: the lens {:.0f} ms\n", width, trial.camera.height, 1e3 * lens);
    const PixelBox box = PixelBox::at(0, 0, width, trial.camera.height);
    const auto time = [&](const char* what, const finish::Steps& steps) {
        for (const auto quality : {finish::Quality::exact, finish::Quality::screen}) {
            finish::Sources sources;
            sources.quality = quality;
            sources.glowMasks.resize(steps.glows.size());
            const double own = quickest(3, [&] {
                (void)finish::finished({picture, box, width, trial.camera.height, 1}, box, steps, sources,
                                       run);
            });
            fmt::print("  {:<12}{:<8} {:>5.0f} ms  {:>5.1f} % of the lens\n", what,
                       quality == finish::Quality::exact ? "exact" : "screen", 1e3 * own, 100.0 * own / lens);
        }
    };
    const auto only = [&](auto keep) {
        finish::Steps steps;
        keep(steps);
        return steps;
    };
    time("glow", only([&](finish::Steps& s) { s.glows = all.glows; }));
    time("fringing", only([&](finish::Steps& s) { s.finish.fringing = all.finish.fringing; }));
    time("vignette", only([&](finish::Steps& s) { s.finish.vignette = all.finish.vignette; }));
    time("grade", only([&](finish::Steps& s) { s.finish.grade = all.finish.grade; }));
    time("look", only([&](finish::Steps& s) { s.looks = all.looks; }));
    time("grain", only([&](finish::Steps& s) { s.finish.grain = all.finish.grain; }));
    time("all", all);
    std::filesystem::remove(cube);
}

} // namespace

int main(int argc, char** argv)
{
    CLI::App app("What finish costs beside the lens");
    int width = 1920;
    int threads = 0;
    app.add_option("--width", width, "Of the frame, px");
    app.add_option("--threads", threads, "0: all cores");
    CLI11_PARSE(app, argc, argv);
    print(width, threads);
    return 0;
}
