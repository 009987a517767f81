// Any text as the regions, and after the first 0 as the inserts, of a project with a frame, mattes and
// subjects. What loads is checked and rendered, coarse and in full; pictures come out finite, alpha from 0
// to 1.
#include "core/delivery/project_check.h"
#include "core/frame/places/subject_measure.h"
#include "core/frame/render_frame.h"
#include "core/passes/exr/exr_write.h"
#include "core/project/file/project_file.h"
#include "core/system/error.h"

#include <cmath>
#include <cstdlib>
#include <fstream>
#include <string>
#include <string_view>
#include <unistd.h>

namespace {

using namespace retinex;

constexpr int kWidth = 48;
constexpr int kHeight = 32;

/// A near disc before a slope, its matte, and a picture to lay in.
void writePasses(const std::filesystem::path& folder)
{
    RgbaImage image(kWidth, kHeight);
    Plane<float> depth(kWidth, kHeight);
    Plane<float> matte(kWidth, kHeight);
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x) {
            const bool isDisc = std::hypot(x - 20, y - 16) < 9.0;
            depth.at(x, y) = isDisc ? 1.5F : 3.0F + 0.2F * static_cast<float>(kHeight - y);
            matte.at(x, y) = isDisc ? 1.0F : 0.0F;
            for (int c = 0; c < 3; ++c)
                image.plane(c).at(x, y) = 0.1F + 0.01F * static_cast<float>((x * (c + 1) + y) % 40);
            image.plane(3).at(x, y) = y < 4 ? 0.0F : 1.0F;
        }
    passes::ExrOutput output;
    output.type = passes::SampleType::float32;
    output.channels = {{"Z", &depth}, {"matte.disc", &matte}};
    for (int c = 0; c < RgbaImage::channels; ++c)
        output.channels.push_back({std::string(1, "RGBA"[c]), &image.plane(c)});
    passes::writeExr(folder / "frame.exr", output);
}

const std::filesystem::path& folder()
{
    static const std::filesystem::path made = [] {
        const auto path =
            std::filesystem::temp_directory_path() / ("retinex-areas-" + std::to_string(::getpid()));
        std::filesystem::create_directories(path);
        writePasses(path);
        std::filesystem::current_path(path);
        return path;
    }();
    return made;
}

void requireWhole(const RgbaImage& image)
{
    for (int c = 0; c < RgbaImage::channels; ++c)
        for (const float value : image.plane(c).pixels())
            if (!std::isfinite(value) || (c == 3 && !(value >= 0.0F && value <= 1.0F))) std::abort();
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    const std::string_view all(reinterpret_cast<const char*>(data), size);
    const std::size_t end = std::min(all.find('\0'), all.size());
    const std::string_view inserts = end < all.size() ? all.substr(end + 1) : std::string_view();
    if (all.find("/") != std::string_view::npos) return 0; // nothing beyond the folder is read
    std::ofstream(folder() / "fuzz.retinex", std::ios::binary)
        << R"({"format": 3, "passes": {"colour": {"file": "frame.exr"}, "depth": {"file": "", "channel": "Z"},
 "mattes": [{"file": "frame.exr", "name": "matte.disc"}]}, "frames": {"first": 1, "last": 2},
 "subjects": [{"name": "disc", "places": {"frames": [1, 2], "x": [20, 22], "y": [16, 16]}},
 {"name": "all", "region": "area"}],
 "shots": [{"name": "one", "firstFrame": 1, "reading": {"kind": "distance"}, "lens": {"fStop": 1,
 "focalLengthMm": 50, "sensorWidthMm": 36}, "focus": {"distance": 2}, "blur": {"limitNearPx": 12,
 "limitFarPx": 12}, "regions": [)"
        << all.substr(0, end) << R"(], "inserts": [)" << inserts << "]}]}";
    try {
        auto project = std::make_shared<project::Project>(project::loadProject(folder() / "fuzz.retinex"));
        const passes::PassSource source(project->colour, project->depth, project->passOptions);
        (void)delivery::checkProject(*project, folder());
        (void)frame::measureSubjects(*project, source, false, {1, {}, {}});
        requireWhole(frame::renderFrame(source, {project, 1, 3, {}}, {1, {}, {}}).image);
        requireWhole(frame::renderFrame(source, {project, 1, 1, {}}, {1, {}, {}}).image);
    } catch (const Error&) {
    }
    return 0;
}
