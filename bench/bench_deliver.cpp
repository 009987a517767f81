// What delivering costs, reading and writing included: the program on one frame and on a sequence, beside
// slices by FFT on the same frame; with --profile, something for a profiler to look at.
#include "bench/peers.h"
#include "bench/timing.h"
#include "core/defocus/defocus.h"
#include "core/depth/depth_reading.h"
#include "core/passes/exr/exr_file.h"
#include "core/passes/exr/exr_write.h"
#include "reference/camera_header.h"
#include "reference/scenes.h"

#include <CLI/CLI.hpp>
#include <ImathMatrix.h>
#include <ImfHeader.h>
#include <ImfStandardAttributes.h>
#include <OpenImageIO/imageio.h>
#include <cmath>
#include <ctime>
#include <filesystem>
#include <fmt/format.h>
#include <fstream>
#include <spawn.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

namespace {

using namespace retinex;
namespace fs = std::filesystem;

struct Job
{
    fs::path folder;
    int width = 1920;
    int height = 1080;
    int frames = 24;
    double radiusPx = 50.0;
    reference::Trial trial = reference::makeTrial("greenhouse, can");
    defocus::LensSettings settings;

    [[nodiscard]] fs::path frame(int number) const { return folder / fmt::format("in.{:04}.exr", number); }
};

reference::Camera driftedCamera(const Job& job, int frame)
{
    reference::Camera camera = job.trial.camera;
    const float drift = 0.004F * static_cast<float>(frame - 1); // metres
    camera.eye.x += drift;
    camera.target.x += drift;
    return camera;
}

/// Passes as a renderer writes them: half colour and float distance in one file.
void writeFrame(const Job& job, int number, const RgbaImage& colour, const Plane<float>& distance,
                const passes::HeaderPtr& header)
{
    OIIO::ImageSpec spec(job.width, job.height, 5, OIIO::TypeHalf);
    spec.channelnames = {"R", "G", "B", "A", "Z"};
    spec.channelformats = {OIIO::TypeHalf, OIIO::TypeHalf, OIIO::TypeHalf, OIIO::TypeHalf, OIIO::TypeFloat};
    spec.alpha_channel = 3;
    if (header) spec.attribute("worldToNDC", OIIO::TypeMatrix, &Imf::worldToNDC(*header));
    std::vector<float> pixels;
    pixels.reserve(5 * distance.size());
    for (std::size_t i = 0; i < distance.size(); ++i) {
        for (int c = 0; c < RgbaImage::channels; ++c)
            pixels.push_back(colour.plane(c).pixels()[i]);
        pixels.push_back(distance.pixels()[i]);
    }
    auto out = OIIO::ImageOutput::create("x.exr");
    out->open(job.frame(number).string(), spec);
    out->write_image(OIIO::TypeFloat, pixels.data());
    out->close();
}

/// One frame and as many copies as the sequence has.
void writePasses(Job& job)
{
    job.trial.camera.width = job.width;
    job.trial.camera.height = job.height;
    const auto passes = reference::renderPasses(job.trial.scene, job.trial.camera, 16);
    const auto distance = depth::toDistance(passes.depth).distance;
    job.settings.lens = {job.trial.camera.focalLengthMm, 1.0, 1000.0 * job.trial.lens.focusDistance};
    job.settings.sensorWidthMm = job.trial.camera.sensorWidthMm;
    job.settings.blur.limitNearPx = job.settings.blur.limitFarPx = 2000.0;
    double largest = 0.0;
    const Plane<float> radius = defocus::blurRadiusPx(distance, job.settings);
    for (const float r : radius.pixels())
        largest = std::max(largest, static_cast<double>(std::abs(r)));
    job.settings.lens.fStop = largest / job.radiusPx;
    writeFrame(job, 1, passes.colour, distance, nullptr);
    for (int i = 2; i <= job.frames; ++i)
        fs::copy_file(job.frame(1), job.frame(i), fs::copy_options::overwrite_existing);
}

/// Frames of their own from a camera that drifts sideways, told by their headers or not.
void writeDrift(const Job& job, bool tellsCamera)
{
    for (int i = 1; i <= job.frames; ++i) {
        const auto camera = driftedCamera(job, i);
        const auto passes = reference::renderPasses(job.trial.scene, camera, 16);
        writeFrame(job, i, passes.colour, depth::toDistance(passes.depth).distance,
                   tellsCamera ? reference::headerOf(camera) : nullptr);
    }
}

/// Slices by FFT as a script would have it: general libraries read and write.
void peer(const Job& job)
{
    auto in = OIIO::ImageInput::open(job.frame(1).string());
    std::vector<float> pixels(5 * static_cast<std::size_t>(job.width) * static_cast<std::size_t>(job.height));
    in->read_image(0, 0, 0, 5, OIIO::TypeFloat, pixels.data());
    RgbaImage colour(job.width, job.height);
    Plane<float> distance(job.width, job.height);
    for (std::size_t i = 0; i < distance.size(); ++i) {
        for (int c = 0; c < RgbaImage::channels; ++c)
            colour.plane(c).pixels()[i] = pixels[5 * i + static_cast<std::size_t>(c)];
        distance.pixels()[i] = pixels[5 * i + 4];
    }
    const RgbaImage result =
        bench::slicesByFft(colour, defocus::blurRadiusPx(distance, job.settings), job.settings.iris);
    OIIO::ImageSpec spec(job.width, job.height, 4, OIIO::TypeHalf);
    for (std::size_t i = 0; i < distance.size(); ++i)
        for (int c = 0; c < RgbaImage::channels; ++c)
            pixels[4 * i + static_cast<std::size_t>(c)] = result.plane(c).pixels()[i];
    auto out = OIIO::ImageOutput::create("x.exr");
    out->open((job.folder / "peer.exr").string(), spec);
    out->write_image(OIIO::TypeFloat, pixels.data());
    out->close();
}

struct Taken
{
    double seconds = 0.0;
    double cpuSeconds = 0.0;
    double peakBytes = 0.0;
};

/// The program as a process of its own.
Taken process(std::vector<std::string> words)
{
    words.insert(words.begin(), (fs::read_symlink("/proc/self/exe").parent_path() / "retinex-cli").string());
    std::vector<char*> arguments;
    for (std::string& word : words)
        arguments.push_back(word.data());
    arguments.push_back(nullptr);
    Taken taken;
    rusage usage{};
    int status = 0;
    taken.seconds = bench::secondsOf([&] {
        pid_t child = 0;
        if (posix_spawn(&child, arguments[0], nullptr, nullptr, arguments.data(), environ) != 0) return;
        wait4(child, &status, 0, &usage);
    });
    if (status != 0) throw std::runtime_error(fmt::format("{} {}: failed", words[0], words[1]));
    const auto seconds = [](const timeval& t) {
        return static_cast<double>(t.tv_sec) + 1e-6 * static_cast<double>(t.tv_usec);
    };
    taken.cpuSeconds = seconds(usage.ru_utime) + seconds(usage.ru_stime);
    taken.peakBytes = 1024.0 * static_cast<double>(usage.ru_maxrss);
    return taken;
}

Taken best(int repeats, const std::vector<std::string>& words)
{
    Taken least{1e9, 0.0, 0.0};
    for (int i = 0; i < repeats; ++i)
        if (const Taken taken = process(words); taken.seconds < least.seconds) least = taken;
    return least;
}

std::vector<std::string> one(const Job& job)
{
    return {"defocus",
            "--colour",
            job.frame(1),
            "--depth",
            fmt::format("{}:Z", job.frame(1).string()),
            "--out",
            job.folder / "one.exr",
            "--focus",
            fmt::format("{}", job.trial.lens.focusDistance),
            "--fstop",
            fmt::format("{}", job.settings.lens.fStop),
            "--focal-length",
            fmt::format("{}", job.settings.lens.focalLengthMm),
            "--sensor-width",
            fmt::format("{}", job.settings.sensorWidthMm),
            "--overwrite",
            "--progress",
            "none"};
}

/// A delivery of all frames.
std::vector<std::string> all(const Job& job, const std::string& views = "off")
{
    const fs::path project = job.folder / "job.retinex";
    std::ofstream(project) << fmt::format(
        R"({{"format": 3, "passes": {{"colour": {{"file": "in.####.exr"}}, "depth": {{"file": "", "channel": "Z"}}}},
"frames": {{"first": 1, "last": {}}}, "camera": {{"sensorWidthMm": {}}},
"shots": [{{"lens": {{"fStop": {}, "focalLengthMm": {}}}, "focus": {{"distance": {}}},
"repair": {{"views": "{}"}}}}],
"deliveries": [{{"id": "1", "name": "plates"}}]}})",
        job.frames, job.settings.sensorWidthMm, job.settings.lens.fStop, job.settings.lens.focalLengthMm,
        job.trial.lens.focusDistance, views);
    return {"render",      project,      "--out", job.folder / "out", "--delivery", "plates",
            "--overwrite", "--progress", "none"};
}

void print(const char* what, const Job& job, const Taken& taken, int frames, double peerSeconds)
{
    const double pixels = static_cast<double>(job.width) * job.height;
    fmt::print(
        "{:<28}{:>8.3f} s a frame  cores busy {:>4.0f} %  at most {:>5.1f} frames of memory ({:.2f} GB)",
        what, taken.seconds / frames, 50.0 * taken.cpuSeconds / taken.seconds,
        taken.peakBytes / (16.0 * pixels), taken.peakBytes / 1e9);
    if (peerSeconds > 0.0) fmt::print("  {:.1f} times the peer", peerSeconds * frames / taken.seconds);
    fmt::print("\n");
    std::fflush(stdout);
}

/// What packing the frame takes in each way: processor time on one core, and bytes.
void printFormats(const Job& job)
{
    process(one(job));
    const auto read = passes::readExrChannels(job.folder / "one.exr", 0, {"R", "G", "B", "A"}, {});
    passes::ExrOutput output;
    for (std::size_t c = 0; c < read.planes.size(); ++c)
        output.channels.push_back({std::string(1, "RGBA"[c]), &read.planes[c]});
    const auto print = [&](const char* what, Imf::Compression compression, float level) {
        output.compression = compression;
        output.level = level;
        std::size_t bytes = 0;
        double seconds = 1e9;
        for (int i = 0; i < 9; ++i) {
            const std::clock_t start = std::clock(); // of all threads
            bytes = passes::encodedExr("frame.exr", output).size();
            seconds = std::min(seconds, static_cast<double>(std::clock() - start) / CLOCKS_PER_SEC);
        }
        fmt::print("{:<14}{:>4.0f}{:>8.0f} ms{:>8.2f} MB\n", what, level, 1e3 * seconds,
                   static_cast<double>(bytes) / 1e6);
    };
    print("none", Imf::NO_COMPRESSION, 0.0F);
    for (const float level : {1.0F, 2.0F, 3.0F, 4.0F, 6.0F, 9.0F})
        print("zip", Imf::ZIP_COMPRESSION, level);
    print("zip line", Imf::ZIPS_COMPRESSION, 4.0F);
    print("piz", Imf::PIZ_COMPRESSION, 4.0F);
    print("dwaa", Imf::DWAA_COMPRESSION, 45.0F);
}

} // namespace

int main(int argc, char** argv)
{
    Job job;
    bool profile = false;
    bool formats = false;
    bool views = false;
    CLI::App app("What delivering costs, reading and writing included");
    app.add_option("--width", job.width, "Of the frame, px")->capture_default_str();
    app.add_option("--radius", job.radiusPx, "Largest radius, px")->capture_default_str();
    app.add_option("--frames", job.frames, "Of the sequence")->capture_default_str();
    app.add_flag("--profile", profile, "The sequence alone, without the peer");
    app.add_flag("--formats", formats, "Size and time of each way to compress");
    app.add_flag("--views", views, "A sequence from a camera that drifts, with other frames and without");
    CLI11_PARSE(app, argc, argv);
    job.height = job.width * 9 / 16;
    job.folder = fs::temp_directory_path() / fmt::format("retinex-bench-deliver-{}", getpid());
    fs::create_directories(job.folder);
    try {
        writePasses(job);
        fmt::print("{} x {}, {:.0f} px, half EXR\n", job.width, job.height, job.radiusPx);
        if (views) {
            for (const bool tells : {true, false}) {
                writeDrift(job, tells);
                for (const char* word : {"off", "near", "far"})
                    print(fmt::format("{}, camera from {}", word, tells ? "headers" : "the picture").c_str(),
                          job, best(2, all(job, word)), job.frames, 0.0);
            }
        }
        double peerSeconds = 0.0;
        if (!profile && !formats && !views) {
            peerSeconds = bench::quickest(2, [&] { peer(job); });
            fmt::print("{:<28}{:>8.3f} s a frame\n", "slices by FFT", peerSeconds);
            print("a process for one frame", job, best(7, one(job)), 1, peerSeconds);
        }
        if (formats)
            printFormats(job);
        else if (!views)
            print("a process for the sequence", job, best(profile ? 1 : 2, all(job)), job.frames,
                  peerSeconds);
    } catch (const std::exception& error) {
        fmt::print(stderr, "{}\n", error.what());
        return 1;
    }
    fs::remove_all(job.folder);
    return 0;
}
