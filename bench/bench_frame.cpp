// One frame of the demo scene again and again: how its time grows with the radius and with the size, how much
// memory it takes, and, with --radius, something for a profiler to look at.
#include "core/defocus/defocus.h"
#include "core/depth/depth_reading.h"
#include "reference/scenes.h"

#include <CLI/CLI.hpp>
#include <algorithm>
#include <chrono>
#include <cmath>
#include <fmt/format.h>
#include <sys/resource.h>
#include <thread>
#include <vector>

namespace {

using namespace retinex;

struct Frame
{
    reference::Passes passes;
    Plane<float> distance;
    defocus::LensSettings settings;
    double largestAtF1 = 0.0;
};

Frame makeFrame(int width)
{
    auto trial = reference::makeTrial("greenhouse, can");
    trial.camera.width = width;
    trial.camera.height = width * 9 / 16;
    Frame frame{reference::renderPasses(trial.scene, trial.camera, 16), {}, {}, 0.0};
    frame.distance = depth::toDistance(frame.passes.depth).distance;
    frame.settings.lens = {trial.camera.focalLengthMm, 1.0, 1000.0 * trial.lens.focusDistance};
    frame.settings.blur.limitNearPx = frame.settings.blur.limitFarPx = 2000.0;
    const auto radius = defocus::blurRadiusPx(frame.distance, frame.settings);
    for (const float r : radius.pixels())
        frame.largestAtF1 = std::max(frame.largestAtF1, static_cast<double>(std::abs(r)));
    return frame;
}

double peakBytes()
{
    rusage usage{};
    getrusage(RUSAGE_SELF, &usage);
    return 1024.0 * static_cast<double>(usage.ru_maxrss);
}

/// The quickest of `repeats`: what the work takes without the machine's other business.
double secondsFor(Frame& frame, double radius, int threads, int repeats)
{
    frame.settings.lens.fStop = frame.largestAtF1 / radius;
    double best = 1e9;
    for (int i = 0; i < repeats; ++i) {
        const auto start = std::chrono::steady_clock::now();
        (void)defocus::defocus({frame.passes.colour, frame.distance}, frame.settings, {threads, {}, {}});
        best =
            std::min(best, std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count());
    }
    return best;
}

void print(Frame& frame, double radius, int threads, int repeats)
{
    const int width = frame.distance.width();
    const double before = peakBytes();
    const double seconds = secondsFor(frame, radius, threads, repeats);
    const double frameBytes = 16.0 * static_cast<double>(frame.distance.size());
    fmt::print("{:>5} x {:<5} {:>5.0f} px  {:>8.1f} ms  {:>6.1f} ns/px", width, frame.distance.height(),
               radius, 1e3 * seconds, 1e9 * seconds / static_cast<double>(frame.distance.size()));
    if (peakBytes() > before)
        fmt::print("  at most {:.1f} frames of memory more than before", (peakBytes() - before) / frameBytes);
    fmt::print("\n");
    std::fflush(stdout);
}

/// Asks the work to stop after each of many times, and prints how long that takes.
void printStops(Frame& frame, double radius, int threads)
{
    using Clock = std::chrono::steady_clock;
    const double whole = secondsFor(frame, radius, threads, 1);
    std::vector<std::pair<double, double>> stops; // ms it took, share of the work at that time
    constexpr int count = 60;
    for (int i = 0; i < count; ++i) {
        std::stop_source stop;
        Clock::time_point asked;
        const double share = (i + 0.5) / count;
        std::jthread timer([&] {
            std::this_thread::sleep_for(std::chrono::duration<double>(share * whole));
            asked = Clock::now();
            stop.request_stop();
        });
        try {
            (void)defocus::defocus({frame.passes.colour, frame.distance}, frame.settings,
                                   {threads, {}, stop.get_token()});
        } catch (const Cancelled&) {
            const auto now = Clock::now();
            timer.join();
            stops.emplace_back(1e3 * std::chrono::duration<double>(now - asked).count(), share);
        }
    }
    if (stops.empty()) {
        fmt::print("No stop came while there was work: the frame is done in {:.1f} ms.\n", 1e3 * whole);
        return;
    }
    std::sort(stops.rbegin(), stops.rend());
    fmt::print("{} x {}, {:.0f} px: stops within {:.1f} ms in half of {} cases; longest",
               frame.distance.width(), frame.distance.height(), radius, stops[stops.size() / 2].first,
               stops.size());
    for (std::size_t i = 0; i < std::min<std::size_t>(stops.size(), 4); ++i)
        fmt::print(" {:.1f} ms (after {:.0f} % of the time)", stops[i].first, 100.0 * stops[i].second);
    fmt::print("\n");
}

} // namespace

int main(int argc, char** argv)
{
    double radius = 0.0;
    int width = 1920;
    int threads = 0;
    int repeats = 3;
    CLI::App app("Time and memory of one frame.");
    app.add_option("--radius", radius, "Largest radius, px; without it the tables are printed");
    app.add_option("--width", width, "Width, px")->capture_default_str();
    app.add_option("--threads", threads, "0: all cores")->capture_default_str();
    app.add_option("--repeats", repeats, "Times a frame; the quickest counts")->capture_default_str();
    bool stops = false;
    app.add_flag("--stops", stops, "With --radius: how long stopping takes");
    bool coarse = false;
    app.add_flag("--coarse", coarse, "As while a control moves");
    CLI11_PARSE(app, argc, argv);
    if (radius > 0.0) {
        Frame frame = makeFrame(width);
        frame.settings.isCoarse = coarse;
        if (stops) {
            printStops(frame, radius, threads);
            return 0;
        }
        print(frame, radius, threads, repeats);
        return 0;
    }
    fmt::print("By size, the radius growing with it (30 px at 1920)\n");
    for (const int w : {944, 1920, 3840, 7680}) {
        Frame frame = makeFrame(w);
        print(frame, 30.0 * w / 1920.0, threads, w > 4000 ? 1 : repeats);
    }
    fmt::print("By radius\n");
    Frame frame = makeFrame(width);
    for (const double r : {1.0, 2.0, 4.0, 8.0, 16.0, 32.0, 64.0, 128.0})
        print(frame, r, threads, repeats);
    return 0;
}
