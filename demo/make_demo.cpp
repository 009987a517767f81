// Renders the passes of the night greenhouse. The stored demo was made with:
//   retinex-make-demo --out demo/data
//   retinex-make-demo --pictures demo/data
//   retinex-make-demo --scene demo/data/greenhouse.gltf
//   retinex-make-demo --out demo/data --width 1920 --frames 10-10 --name greenhouse_still --samples 64
#include "core/passes/sequence.h"
#include "core/system/error.h"
#include "demo/pictures.h"
#include "demo/scene_writer.h"
#include "reference/greenhouse.h"

#include <CLI/CLI.hpp>
#include <ImfChannelList.h>
#include <ImfChromaticitiesAttribute.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfOutputFile.h>
#include <ImfStandardAttributes.h>
#include <bit>
#include <cmath>
#include <fmt/format.h>
#include <half.h>
#include <map>

namespace {

using namespace retinex;

/// Keeps 11 bits of the mantissa, a relative step of 2.4e-4: well below any difference that shows, and the
/// stored files shrink by half.
float rounded(float depth)
{
    const auto bits = std::bit_cast<std::uint32_t>(depth);
    return std::bit_cast<float>((bits + 0x800U) & ~0xfffU);
}

void write(const std::string& file, const reference::Passes& passes)
{
    Imf::Header header(passes.colour.width(), passes.colour.height());
    // DWAA packs R, G and B with a small loss (level 200: below what shows) and keeps all else exact.
    header.compression() = Imf::DWAA_COMPRESSION;
    header.dwaCompressionLevel() = 200.F;
    Imf::addComments(
        header, "The night greenhouse: an invented scene, made by retinex-make-demo. Lengths in metres.");
    Imf::addFramesPerSecond(header, Imf::Rational(24, 1));
    std::map<std::string, Plane<half>> halves;
    const auto addHalf = [&](const std::string& channel, const Plane<float>& plane) {
        Plane<half> stored(plane.width(), plane.height());
        std::copy(plane.pixels().begin(), plane.pixels().end(), stored.pixels().begin());
        halves.emplace(channel, std::move(stored));
        header.channels().insert(channel, Imf::Channel(Imf::HALF));
    };
    for (int c = 0; c < RgbaImage::channels; ++c)
        addHalf(std::string(1, "RGBA"[c]), passes.colour.plane(c));
    for (const auto& [name, matte] : passes.mattes)
        if (name != "door") addHalf("matte." + name, matte);
    Plane<float> depth = passes.depth;
    for (float& value : depth.pixels())
        value = rounded(value);
    header.channels().insert("Z", Imf::Channel(Imf::FLOAT));
    Imf::FrameBuffer buffer;
    for (auto& [name, plane] : halves)
        buffer.insert(name, Imf::Slice::Make(Imf::HALF, plane.row(0), header.dataWindow()));
    buffer.insert("Z", Imf::Slice::Make(Imf::FLOAT, depth.row(0), header.dataWindow()));
    Imf::OutputFile out(file.c_str(), header);
    out.setFrameBuffer(buffer);
    out.writePixels(passes.colour.height());
}

/// A drawn picture as half floats; packed with a loss that does not show.
void writePicture(const std::string& file, const RgbaImage& image)
{
    Imf::Header header(image.width(), image.height());
    header.compression() = Imf::DWAA_COMPRESSION;
    header.dwaCompressionLevel() = 60.F;
    Imf::addComments(header, "Drawn by retinex-make-demo.");
    Imf::FrameBuffer buffer;
    std::vector<Plane<half>> halves;
    for (int c = 0; c < RgbaImage::channels; ++c) {
        const std::string channel(1, "RGBA"[c]);
        const Plane<float>& plane = image.plane(c);
        halves.emplace_back(plane.width(), plane.height());
        std::copy(plane.pixels().begin(), plane.pixels().end(), halves.back().pixels().begin());
        header.channels().insert(channel, Imf::Channel(Imf::HALF));
        buffer.insert(channel, Imf::Slice::Make(Imf::HALF, halves.back().row(0), header.dataWindow()));
    }
    Imf::OutputFile out(file.c_str(), header);
    out.setFrameBuffer(buffer);
    out.writePixels(image.height());
}

/// The surface point seen in the pixel of a matte that lies nearest to the matte's middle.
reference::Vec pointOn(const reference::GreenhouseFrame& built, const reference::Passes& passes,
                       const std::string& name)
{
    const Plane<float>* matte = nullptr;
    for (const auto& [its, plane] : passes.mattes)
        if (its == name) matte = &plane;
    if (!matte) throw Error("no matte " + name);
    double sx = 0.0;
    double sy = 0.0;
    double count = 0.0;
    const auto each = [&](auto work) {
        for (int y = 0; y < matte->height(); ++y)
            for (int x = 0; x < matte->width(); ++x)
                if (matte->at(x, y) > 0.999F) work(x, y);
    };
    each([&](int x, int y) {
        sx += x;
        sy += y;
        count += 1.0;
    });
    double nearest = 1e9;
    int foundX = 0;
    int foundY = 0;
    each([&](int x, int y) {
        const double away = std::hypot(x - sx / count, y - sy / count);
        if (away >= nearest) return;
        nearest = away;
        foundX = x;
        foundY = y;
    });
    const reference::Camera& camera = built.camera;
    const reference::Vec forward = normalised(camera.target - camera.eye);
    const reference::Vec right = normalised(cross(forward, reference::Vec{0, 1, 0}));
    const reference::Vec up = cross(right, forward);
    const float perPx = camera.sensorWidthMm / camera.focalLengthMm / static_cast<float>(camera.width);
    const float dx = (static_cast<float>(foundX) + 0.5F - 0.5F * static_cast<float>(camera.width)) * perPx;
    const float dy = (0.5F * static_cast<float>(camera.height) - static_cast<float>(foundY) - 0.5F) * perPx;
    return camera.eye + (forward + right * dx + up * dy) * passes.depth.at(foundX, foundY);
}

/// Cameras of both shots, and points on what an artist would focus on, as seen on the first frame.
void writeSceneFile(const std::string& file)
{
    using reference::GreenhouseFrame;
    std::vector<demo::ShotCamera> cameras{{"shot 1", GreenhouseFrame::firstFrame, {}},
                                          {"shot 2", GreenhouseFrame::cutFrame, {}}};
    for (int frame = GreenhouseFrame::firstFrame; frame <= GreenhouseFrame::lastFrame; ++frame)
        cameras[frame < GreenhouseFrame::cutFrame ? 0 : 1].frames.push_back(
            reference::makeGreenhouse(frame).camera);
    const GreenhouseFrame first = reference::makeGreenhouse(GreenhouseFrame::firstFrame);
    const auto passes = reference::renderPasses(first.scene, first.camera, 16);
    std::vector<demo::ScenePoint> points;
    for (const char* name : {"can", "orchids"})
        points.push_back({name, pointOn(first, passes, name)});
    const auto corners = reference::signCorners();
    const char* names[] = {"sign top left", "sign top right", "sign bottom right", "sign bottom left"};
    for (std::size_t i = 0; i < corners.size(); ++i)
        points.push_back({names[i], corners[i]});
    // Where soil is spilled on the bench.
    const reference::Vec spill[] = {
        {-1.3F, -0.37F, -5.6F}, {-0.86F, -0.37F, -5.6F}, {-0.86F, -0.37F, -3.7F}, {-1.3F, -0.37F, -3.7F}};
    for (std::size_t i = 0; i < 4; ++i)
        points.push_back({fmt::format("spill {}", i + 1), spill[i]});
    demo::writeScene(file, cameras, GreenhouseFrame::firstFrame, 24.0, points);
}

} // namespace

int main(int argc, char** argv)
{
    CLI::App app("Renders the passes of the demo scene: colour, alpha, mattes and depth in one EXR a frame.");
    std::string out = ".";
    std::string name = "greenhouse";
    int width = 960;
    int samples = 64;
    int first = reference::GreenhouseFrame::firstFrame;
    int last = reference::GreenhouseFrame::lastFrame;
    std::string frames;
    app.add_option("--out", out, "Folder to write to")->capture_default_str();
    app.add_option("--name", name, "File name before the frame number")->capture_default_str();
    app.add_option("--width", width, "Width in px; the height is 9/16 of it")->capture_default_str();
    app.add_option("--samples", samples, "Rays a pixel")->capture_default_str();
    app.add_option("--frames", frames, "Frames A-B");
    std::string scene;
    app.add_option("--scene", scene, "Write the cameras and points to this glTF file, and render nothing");
    std::string pictures;
    app.add_option("--pictures", pictures,
                   "Draw night_sky.exr and soil.exr into this folder, and render nothing");
    CLI11_PARSE(app, argc, argv);
    if (!pictures.empty()) {
        writePicture(pictures + "/night_sky.exr", demo::nightSky(1280, 720));
        writePicture(pictures + "/soil.exr", demo::soil(512, 512));
        return 0;
    }
    if (!scene.empty()) {
        writeSceneFile(scene);
        return 0;
    }
    if (!frames.empty() && std::sscanf(frames.c_str(), "%d-%d", &first, &last) != 2) {
        fmt::print(stderr, "--frames wants A-B\n");
        return 2;
    }
    for (int frame = first; frame <= last; ++frame) {
        reference::GreenhouseFrame built = reference::makeGreenhouse(frame);
        built.camera.width = width;
        built.camera.height = width * 9 / 16;
        const auto passes = reference::renderPasses(built.scene, built.camera, samples);
        const std::string file = first == last ? fmt::format("{}/{}.exr", out, name)
                                               : fmt::format("{}/{}.{:04}.exr", out, name, frame);
        write(file, passes);
        fmt::print("{}\n", file);
    }
    return 0;
}
