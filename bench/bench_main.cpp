// Prints two tables: quality of each reference scene against the traced lens, ours beside the peers; and time
// against slices by FFT. `--quality`, `--speed` choose one of them.
#include "bench/crops.h"
#include "bench/focus_trials.h"
#include "bench/lens_rays.h"
#include "bench/measure.h"
#include "bench/mend_trials.h"
#include "bench/other_trials.h"
#include "bench/peers.h"
#include "bench/probe.h"
#include "bench/reading_trials.h"
#include "bench/rim_trials.h"
#include "bench/view_trials.h"
#include "core/depth/depth_reading.h"
#include "core/passes/exr/exr_write.h"
#include "reference/scenes.h"

#include <CLI/CLI.hpp>
#include <chrono>
#include <cmath>
#include <filesystem>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <thread>

namespace {

using namespace retinex;
namespace fs = std::filesystem;

/// Rays a pixel of the passes: with fewer their noise, which no way can remove, hides how ways differ.
constexpr int kPassSamples = 256;
constexpr int kReadingWidth = 480; ///< of the passes whose reading is proposed

struct Options
{
    int width = 960;
    int samples = 1024;
    std::string only;
    std::string cache;
    std::string dump;
    std::string crops;
    double radius = 0.0;
    bool quality = false;
    bool speed = false;
    bool readings = false;
    bool others = false;
    bool focus = false;
    bool rims = false;
    bool views = false;
    bool onlyWrong = false;
    bool deep = false;
    bool limits = false;
    bool mattes = false;
};

double seconds(const std::function<void()>& work)
{
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

std::string fileName(const std::string& name)
{
    std::string plain;
    for (const char c : name)
        if (std::isalnum(static_cast<unsigned char>(c))) plain += c;
    return plain;
}

RgbaImage tracedLens(const reference::Trial& trial, const Options& options)
{
    const fs::path file = options.cache.empty()
                              ? fs::path()
                              : fs::path(options.cache) / fmt::format("{}-{}-{}.exr", fileName(trial.name),
                                                                      trial.camera.width, trial.lens.samples);
    RgbaImage image(trial.camera.width, trial.camera.height);
    if (!file.empty() && fs::exists(file)) {
        auto read = passes::readExrChannels(file, 0, {"R", "G", "B", "A"});
        for (int c = 0; c < RgbaImage::channels; ++c)
            image.plane(c) = std::move(read.planes[static_cast<std::size_t>(c)]);
        return image;
    }
    image = reference::renderLens(trial.scene, trial.camera, trial.lens);
    if (!file.empty()) passes::writeExr(file, {&image, passes::SampleType::float32, nullptr, 0, 0});
    return image;
}

void row(const std::string& scene, const std::string& way, const bench::Quality& q)
{
    fmt::print("{:<28} {:<15} {:>7.2f} {:>7.2f} {:>7.4f} {:>7.4f} {:>7.3f} {:>6.2f}\n", scene, way, q.psnr,
               q.psnrEdge, q.ssim, 100.0 * q.falseDetail, 100.0 * q.falseShare, q.grain);
    std::fflush(stdout);
}

void dump(const Options& options, const std::string& scene, const std::string& way, const RgbaImage& image)
{
    if (!options.dump.empty())
        passes::writeExr(fs::path(options.dump) / (fileName(scene) + "-" + way + ".exr"),
                         {&image, passes::SampleType::half, nullptr, 0, 0});
}

using Compared = std::function<bench::Quality(const RgbaImage&)>;

/// Prints a row for every way to the same picture, and writes what is asked for; false where a peer is ahead.
bool compareWays(
    const std::string& name, const Options& options, const RgbaImage& colour, const Plane<float>& distance,
    const defocus::LensSettings& settings, const RgbaImage& truth,
    const std::function<void(const Compared& compared, const Plane<float>& radius)>& moreRows = {})
{
    const auto band = bench::edgeBand(distance);
    const auto radius = defocus::blurRadiusPx(distance, settings);
    const RgbaImage ours = defocus::defocus({colour, distance}, settings);
    const RgbaImage gathered = bench::gather(colour, radius);
    const RgbaImage fft = bench::slicesByFft(colour, radius, settings.iris);
    const RgbaImage probed = bench::probe(colour, radius, settings.iris);
    const Plane<float> rims = bench::behindRims(radius);
    const double trueGrain = bench::grainOf(truth, rims);
    const auto compared = [&](const RgbaImage& picture) {
        bench::Quality quality = bench::compare(picture, truth, band);
        if (trueGrain > 0.0) quality.grain = bench::grainOf(picture, rims) / trueGrain;
        return quality;
    };
    const auto q = compared(ours);
    const auto qProbe = compared(probed);
    const auto qGather = compared(gathered);
    const auto qFft = compared(fft);
    row(name, "nothing done", compared(colour));
    row("", "gather", qGather);
    row("", "slices by FFT", qFft);
    row("", "probe", qProbe);
    row("", "retinex", q);
    if (moreRows) moreRows(compared, radius);
    if (!options.crops.empty()) {
        fs::create_directories(options.crops);
        bench::writeCrops(fs::path(options.crops) / (fileName(name) + ".png"), {{&ours, &truth, &probed}},
                          bench::worstPlace(ours, truth));
    }
    dump(options, name, "truth", truth);
    dump(options, name, "passes", colour);
    dump(options, name, "retinex", ours);
    dump(options, name, "fft", fft);
    dump(options, name, "probe", probed);
    const auto isAhead = [&](const bench::Quality& peer) {
        return q.psnr >= peer.psnr && q.psnrEdge >= peer.psnrEdge && q.ssim >= peer.ssim;
    };
    return isAhead(qGather) && isAhead(qFft) && isAhead(qProbe);
}

bool qualityOf(const std::string& name, const Options& options)
{
    reference::Trial trial = reference::makeTrial(name);
    trial.camera.width = options.width;
    trial.camera.height = options.width * 9 / 16;
    trial.lens.samples = options.samples;
    trial.lens.mostRounds = 16;
    const RgbaImage truth = tracedLens(trial, options);
    const auto passes = reference::renderPasses(trial.scene, trial.camera, kPassSamples);
    const auto distance = depth::toDistance(passes.depth).distance;
    const auto settings = reference::engineSettings(trial.camera, trial.lens);
    const auto more = [&](const Compared& compared, const Plane<float>& radius) {
        if (options.deep) {
            const auto deep = reference::renderDeep(trial.scene, trial.camera, kPassSamples);
            const RgbaImage fromDeep = defocus::defocus(deep, settings);
            row("", "retinex, deep", compared(fromDeep));
            dump(options, name, "deep", fromDeep);
        }
        if (options.mattes && !passes.mattes.empty()) {
            const ObjectShares objects = reference::objectsOf(passes);
            const RgbaImage withMattes = defocus::defocus({passes.colour, distance, &objects}, settings, {});
            row("", "retinex, mattes", compared(withMattes));
            dump(options, name, "mattes", withMattes);
        }
        if (options.limits) {
            constexpr int rays = 512; // through the lens
            const auto known = defocus::repairEdges(passes.colour, radius, nullptr, {});
            row("", "rays, ours", compared(bench::throughLens(known, settings.iris, rays)));
        }
    };
    return compareWays(name, options, passes.colour, distance, settings, truth, more);
}

/// The folder that others' scenes are kept in.
fs::path othersCache(const Options& options)
{
    return options.cache.empty() ? fs::temp_directory_path() / "retinex-others" : fs::path(options.cache);
}

/// Scenes of another hand through the lens of another renderer; false where a peer is ahead.
bool otherHands(const Options& options)
{
    constexpr int kSamples = 64; // a minute or two for each scene
    fmt::print("- of another renderer, {} rays through its lens a pixel\n", kSamples);
    bool ahead = true;
    for (const bool heldOut : {false, true}) {
        if (heldOut) fmt::print("-- scenes kept out while tuning\n");
        for (const bench::OtherScene& scene : bench::otherScenes()) {
            if (!scene.lens || scene.lensHeldOut != heldOut) continue;
            if (!options.only.empty() && options.only != scene.name) continue;
            const auto trial = bench::otherTrial(scene, options.width, kSamples, othersCache(options));
            ahead =
                compareWays(scene.name, options, trial.colour, trial.distance, trial.settings, trial.truth) &&
                ahead;
        }
    }
    return ahead;
}

/// A full-size frame whose largest blur is `radiusPx`: the demo scene, opened until it is.
void speedAt(int width, double radiusPx)
{
    reference::Trial trial = reference::makeTrial("greenhouse, can");
    trial.camera.width = width;
    trial.camera.height = width * 9 / 16;
    const auto passes = reference::renderPasses(trial.scene, trial.camera, 16);
    const auto distance = depth::toDistance(passes.depth).distance;
    defocus::LensSettings settings;
    settings.lens = {trial.camera.focalLengthMm, 1.0, 1000.0 * trial.lens.focusDistance};
    const auto open = defocus::blurRadiusPx(distance, settings);
    float largest = 0.0F;
    for (const float r : open.pixels())
        largest = std::max(largest, std::abs(r));
    settings.lens.fStop = static_cast<double>(largest) / radiusPx;
    const auto radius = defocus::blurRadiusPx(distance, settings);
    // By turns, since the machine's other business comes and goes, each twice in a row, since the first meets
    // caches full of the other's: the quickest of six counts.
    double two = 1e9;
    double one = 1e9;
    double pair = 1e9; // two pictures beside each other, a thread each: what two cores can do at most
    double fft = 1e9;
    const auto ours = [&](int threads) {
        (void)defocus::defocus({passes.colour, distance}, settings, {threads, {}, {}});
    };
    const auto time = [](double& best, const auto& work) {
        for (int i = 0; i < 2; ++i)
            best = std::min(best, seconds(work));
    };
    for (int turn = 0; turn < 3; ++turn) {
        time(two, [&] { ours(0); });
        time(one, [&] { ours(1); });
        time(pair, [&] {
            const std::jthread other([&] { ours(1); });
            ours(1);
        });
        time(fft, [&] { (void)bench::slicesByFft(passes.colour, radius, settings.iris); });
    }
    fmt::print("{:>5} x {:<5} {:>4.0f} px  ours {:>6.2f} s (one thread {:>6.2f} s, {:.2f} x; two pictures at "
               "once {:.2f} x)  slices by FFT {:>6.2f} s  ratio {:>5.1f}\n",
               width, width * 9 / 16, radiusPx, two, one, one / two, 2.0 * one / pair, fft, fft / two);
    std::fflush(stdout);
}

/// Sharp into blurred, and frame to frame.
void focusTrials(const Options& options)
{
    fmt::print("\nA plane tilted through focus: contrast of neighbours, ours and traced\n");
    for (const auto& bin : bench::tiltedPlane(options.width, options.samples, 3.0, 48))
        fmt::print("radius {:>6.3f} px  {:.4f}  {:.4f}  ratio {:.3f}\n", bin.radiusPx, bin.ours, bin.traced,
                   bin.ours / bin.traced);
    const auto drift = bench::driftingCamera(480, options.samples, 4);
    fmt::print("\nA drifting camera, 480 px, 4 frames: change from frame to frame\ntraced change {:.5f}; "
               "departure from it: ours {:.5f}, "
               "probe {:.5f}, slices by FFT {:.5f}, gather {:.5f}\n",
               drift.traced, drift.ours, drift.probe, drift.fft, drift.gather);
}

void printViews(const Options& options)
{
    fmt::print("\nMore than one view, {} px: single, with neighbours, what of the guesses they show; change "
               "from frame to "
               "frame; seconds\n",
               options.width);
    bool wasUnseen = false;
    for (const auto& scene : bench::viewScenes()) {
        if (!options.only.empty() && options.only != scene.name) continue;
        if (scene.isUnseen && !wasUnseen) fmt::print("-- made after tuning ended\n");
        wasUnseen = scene.isUnseen;
        bench::ViewsAsked asked{options.width, options.samples, options.limits, options.crops};
        const auto r = bench::moreViews(scene, asked);
        fmt::print("{:<30} {:.2f} / {:.2f} / {:.3f} %  {:.2f} / {:.2f} / {:.3f} %  {:+.2f}  seen {:>3.0f} %  "
                   "{:.4f} departs "
                   "{:.4f} {:.4f}  {:.2f} s of {:.2f} s  frames +-{}\n",
                   scene.name, r.single.psnr, r.single.psnrEdge, 100.0 * r.single.falseShare, r.views.psnr,
                   r.views.psnrEdge, 100.0 * r.views.falseShare, r.views.psnrEdge - r.single.psnrEdge,
                   100.0 * r.seen, r.traced, r.singleDeparts, r.viewsDeparts, r.seconds, r.lensSeconds,
                   fmt::join(r.steps, ", +-"));
        if (options.limits)
            fmt::print("{:<30} rays, single {:.2f} / {:.2f}  rays, with neighbours {:.2f} / {:.2f}\n", "",
                       r.singleRays.psnr, r.singleRays.psnrEdge, r.viewsRays.psnr, r.viewsRays.psnrEdge);
        std::fflush(stdout);
    }
}

void printRims(const Options& options)
{
    fmt::print("\nSilhouettes: how far the picture leaves the traced one's 5 x 5, at most, and share beyond "
               "0.02; the "
               "probe\n");
    for (const auto& row : bench::rims(options.width / 2, options.samples))
        fmt::print("{:>4.1f} px  {:<24} {:.4f} {:>6.3f} %   {:.4f} {:>6.3f} %\n", row.radiusPx, row.filter,
                   row.beyond, 100.0 * row.beyondShare, row.beyondProbe, 100.0 * row.probeShare);
}

/// Proposals for depth passes in every convention; false when too many are wrong, or wrong and sure.
bool readings(const Options& options)
{
    fmt::print("Depth readings as proposed, {} px wide\n", kReadingWidth);
    const fs::path cache = othersCache(options);
    bool good = true;
    for (const bool heldOut : {false, true}) {
        bench::ReadingScore ours;
        bench::ReadingScore others;
        for (const auto& name : bench::readingScenes(heldOut))
            if (options.only.empty() || options.only == name)
                bench::tryReadings(bench::tracedScene(name, heldOut, kReadingWidth), options.onlyWrong, ours);
        for (const bench::OtherScene& other : bench::otherScenes()) {
            if (other.heldOut != heldOut || (!options.only.empty() && options.only != other.name)) continue;
            const auto scene = bench::othersScene(other, kReadingWidth, cache);
            for (const auto& each : {scene, bench::cutOut(*scene)}) {
                if (!options.dump.empty()) bench::writeTrials(each, options.dump);
                bench::tryReadings(each, options.onlyWrong, others);
            }
        }
        fmt::print("-- scenes {}\n", heldOut ? "kept out while tuning" : "tuned on");
        if (ours.trials() > 0) fmt::print("- our own\n"), ours.print();
        if (others.trials() > 0) fmt::print("- of another renderer, whole and cut out\n"), others.print();
        const auto meets = [](const bench::ReadingScore& score) {
            return 100 * score.metric.right >= 95 * score.metric.trials &&
                   100 * score.grey.right >= 92 * score.grey.trials &&
                   100 * score.wrongAndSure() <= score.trials();
        };
        good = good && meets(ours) && meets(others);
    }
    if (!options.only.empty()) return good;
    fmt::print("Wrong way round\n");
    const auto direction = bench::printDirectionTable(640);
    fmt::print("found in {} of {} scenes turned round; {} false alarms\n", direction.found, direction.scenes,
               direction.falseAlarms);
    fmt::print("Mending: share of edge pixels whose distance lies on a surface; error of 8-bit steps in grey "
               "levels\n");
    for (const bool heldOut : {false, true})
        for (const auto& scene : bench::readingScenes(heldOut)) {
            const auto mend = bench::mendScore(scene, 640);
            fmt::print("{:<20} anti-aliased {:>5.1f} % snapped {:>5.1f} %   steps {:.3f} smoothed {:.3f}\n",
                       scene, 100.0 * mend.onSurfaceBefore, 100.0 * mend.onSurfaceAfter, mend.stepErrorBefore,
                       mend.stepErrorAfter);
        }
    return good && direction.falseAlarms == 0;
}

} // namespace

int main(int argc, char** argv)
{
    Options options;
    CLI::App app("Quality against a ray-traced lens, and time against peers.");
    app.add_flag("--quality", options.quality, "Only the quality table");
    app.add_flag("--speed", options.speed, "Only the time table");
    app.add_flag("--focus", options.focus, "Only a plane tilted through focus and a drifting camera");
    app.add_flag("--views", options.views, "Only what other frames of a drifting camera bring");
    app.add_flag("--rims", options.rims, "Only lines around slightly blurred silhouettes");
    app.add_flag("--others", options.others, "Only scenes of another hand, through another renderer's lens");
    app.add_flag("--readings", options.readings, "Only the table of proposed depth readings");
    app.add_flag("--only-wrong", options.onlyWrong, "Of that table only what is not right, with the reasons");
    app.add_flag("--deep", options.deep, "Also the same scenes from deep pictures");
    app.add_flag("--mattes", options.mattes, "Also with mattes of the scenes' objects");
    app.add_flag("--limits", options.limits,
                 "Also how near each ray of the lens would come with the surfaces that the engine knows");
    app.add_option("--radius", options.radius, "Of the time table only this row, px")
        ->check(CLI::IsMember({10.0, 30.0, 60.0}));
    app.add_option("--width", options.width, "Width of the quality frames, px")->capture_default_str();
    app.add_option("--samples", options.samples, "Lens samples a pixel")->capture_default_str();
    app.add_option("--only", options.only, "One scene");
    app.add_option("--cache", options.cache, "Folder that keeps traced pictures between runs");
    app.add_option("--crops", options.crops,
                   "Folder for the worst part of each scene, ours beside the traced");
    app.add_option("--dump", options.dump, "Folder to write the pictures to");
    CLI11_PARSE(app, argc, argv);
    bool ahead = true;
    const bool all = !options.quality && !options.speed && !options.readings && !options.others &&
                     !options.focus && !options.rims && !options.views;
    if (options.readings || all) ahead = readings(options) && ahead;
    if (options.quality || options.others || all)
        fmt::print("Quality, {} x {} px, {} lens samples a pixel\n{:<28} {:<15} {:>7} {:>7} {:>7} {:>7} "
                   "{:>7} {:>6}\n",
                   options.width, options.width * 9 / 16, options.samples, "scene", "way", "PSNR", "edges",
                   "SSIM", "false %", "share %", "grain");
    if (options.others || all) {
        const bool isAhead = otherHands(options);
        fmt::print("Nowhere below any peer there: {}\n", isAhead ? "yes" : "NO");
        ahead = isAhead && ahead;
    }
    if (options.quality || all) {
        for (const auto* names : {&reference::trialNames(), &reference::keptOutTrialNames()}) {
            if (names == &reference::keptOutTrialNames()) fmt::print("-- scenes kept out while tuning\n");
            for (const auto& name : *names)
                if (options.only.empty() || options.only == name) ahead = qualityOf(name, options) && ahead;
        }
        fmt::print("Nowhere below any peer in frame, edge band and SSIM: {}\n", ahead ? "yes" : "NO");
    }
    if (options.views || all) printViews(options);
    if (options.rims || all) printRims(options);
    if (options.focus || all) focusTrials(options);
    if (options.speed || all) {
        fmt::print("\nTime\n");
        for (const double radius : {10.0, 30.0, 60.0})
            if (options.radius <= 0.0 || options.radius == radius) speedAt(1920, radius);
    }
    return ahead ? 0 : 1;
}
