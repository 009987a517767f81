// Renders the passes of the night greenhouse. The stored demo was made with:
//   retinex-make-demo --out demo/data
//   retinex-make-demo --out demo/data --width 1920 --frames 10-10 --name greenhouse_still --samples 64
#include "core/base/error.h"
#include "core/passes/sequence.h"
#include "reference/greenhouse.h"

#include <CLI/CLI.hpp>
#include <ImfChannelList.h>
#include <ImfChromaticitiesAttribute.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfOutputFile.h>
#include <ImfStandardAttributes.h>
#include <bit>
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

} // namespace

int main(int argc, char** argv)
{
    CLI::App app("Renders the passes of the demo scene: colour, alpha, mattes and depth in one EXR a frame.");
    std::string out = ".";
    std::string name = "greenhouse";
    int width = 640;
    int samples = 64;
    int first = reference::GreenhouseFrame::firstFrame;
    int last = reference::GreenhouseFrame::lastFrame;
    std::string frames;
    app.add_option("--out", out, "Folder to write to")->capture_default_str();
    app.add_option("--name", name, "File name before the frame number")->capture_default_str();
    app.add_option("--width", width, "Width in px; the height is 9/16 of it")->capture_default_str();
    app.add_option("--samples", samples, "Rays a pixel")->capture_default_str();
    app.add_option("--frames", frames, "Frames A-B");
    CLI11_PARSE(app, argc, argv);
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
