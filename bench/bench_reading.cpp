// How fast passes are read: our reader against OpenImageIO's whole-file read, and against the lens engine,
// which has to be fed. A program of its own, since linking OpenImageIO costs every start.
#include "core/defocus/defocus.h"
#include "core/passes/pass_source.h"
#include "reference/scenes.h"

#include <ImfChannelList.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfOutputFile.h>
#include <OpenImageIO/imageio.h>
#include <algorithm>
#include <chrono>
#include <filesystem>
#include <fmt/format.h>
#include <functional>
#include <half.h>
#include <list>
#include <unistd.h>

namespace {

using namespace retinex;
namespace fs = std::filesystem;

double seconds(const std::function<void()>& work)
{
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

double median(std::vector<double> times)
{
    std::sort(times.begin(), times.end());
    return times[times.size() / 2];
}

/// R, G, B, A half, Z float, and `layers` more colour layers.
void write(const fs::path& file, const reference::Passes& passes, int layers)
{
    const int width = passes.colour.width();
    const int height = passes.colour.height();
    Imf::Header header(width, height);
    header.compression() = Imf::ZIP_COMPRESSION;
    Imf::FrameBuffer buffer;
    std::list<Plane<half>> halves;
    const auto add = [&](const std::string& name, const Plane<float>& plane, float gain) {
        halves.emplace_back(width, height);
        std::transform(plane.pixels().begin(), plane.pixels().end(), halves.back().pixels().begin(),
                       [gain](float v) { return half(gain * v); });
        header.channels().insert(name, Imf::Channel(Imf::HALF));
        buffer.insert(name, Imf::Slice::Make(Imf::HALF, halves.back().row(0), header.dataWindow()));
    };
    for (int c = 0; c < RgbaImage::channels; ++c)
        add(std::string(1, "RGBA"[c]), passes.colour.plane(c), 1.0F);
    for (int layer = 0; layer < layers; ++layer)
        for (int c = 0; c < 3; ++c)
            add(fmt::format("light{:02}.{}", layer, "RGB"[c]), passes.colour.plane(c),
                0.1F * static_cast<float>(layer + 1));
    header.channels().insert("Z", Imf::Channel(Imf::FLOAT));
    buffer.insert("Z", Imf::Slice::Make(Imf::FLOAT, passes.depth.row(0), header.dataWindow()));
    Imf::OutputFile out(file.c_str(), header);
    out.setFrameBuffer(buffer);
    out.writePixels(height);
}

/// All channels of a file as float, as one reads it without knowing what is needed.
void readWhole(const fs::path& file)
{
    const auto input = OIIO::ImageInput::open(file.string());
    const auto& spec = input->spec();
    std::vector<float> pixels(static_cast<std::size_t>(spec.width) * static_cast<std::size_t>(spec.height) *
                              static_cast<std::size_t>(spec.nchannels));
    input->read_image(0, 0, 0, spec.nchannels, OIIO::TypeDesc::FLOAT, pixels.data());
}

} // namespace

int main()
{
    reference::Trial trial = reference::makeTrial("greenhouse, can");
    trial.camera.width = 1920;
    trial.camera.height = 1080;
    const auto traced = reference::renderPasses(trial.scene, trial.camera, 16);
    const fs::path folder = fs::temp_directory_path() / fmt::format("retinex-bench-{}", ::getpid());
    fs::create_directories(folder);
    constexpr int frames = 8;
    for (int frame = 1; frame <= frames; ++frame)
        write(folder / fmt::format("five.{:04}.exr", frame), traced, 0);
    write(folder / "many.exr", traced, 19); // 62 channels

    std::vector<double> ours;
    std::vector<double> whole;
    const passes::PassSource sequence({folder / "five.####.exr", {}}, {});
    for (int frame = 1; frame <= frames; ++frame) { // the first of each warms the page cache
        readWhole(folder / fmt::format("five.{:04}.exr", frame));
        whole.push_back(seconds([&] { readWhole(folder / fmt::format("five.{:04}.exr", frame)); }));
        ours.push_back(seconds([&] { (void)sequence.load(frame); }));
    }
    fmt::print(
        "1920 x 1080, five channels, zip: ours {:.0f} ms a frame (with distances and checks), whole file by "
        "OpenImageIO {:.0f} ms; ratio {:.2f}\n",
        1000.0 * median(ours), 1000.0 * median(whole), median(whole) / median(ours));

    std::vector<double> oursMany;
    std::vector<double> wholeMany;
    for (int i = 0; i < 5; ++i) {
        wholeMany.push_back(seconds([&] { readWhole(folder / "many.exr"); }));
        oursMany.push_back(seconds([&] { (void)passes::PassSource({folder / "many.exr", {}}, {}).load(1); }));
    }
    fmt::print("1920 x 1080, 62 channels of which five are used: ours {:.0f} ms, whole file {:.0f} ms; ratio "
               "{:.2f}\n",
               1000.0 * median(oursMany), 1000.0 * median(wholeMany), median(wholeMany) / median(oursMany));

    defocus::LensSettings settings;
    settings.lens = {trial.camera.focalLengthMm, trial.lens.fStop, 1000.0 * trial.lens.focusDistance};
    const auto frame = sequence.load(frames);
    const double engine = seconds([&] {
        (void)defocus::defocus({frame->colour(), frame->distance()}, settings);
    });
    fmt::print("the engine takes {:.0f} ms for such a frame: {:.1f} times as long as reading it\n",
               1000.0 * engine, engine / median(ours));
    fs::remove_all(folder);
    return median(ours) < engine ? 0 : 1;
}
