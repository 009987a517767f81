// A whole project with its frame: the text of the project up to the first 0, then the bytes of the frame,
// which it is to call frame.exr. What loads is checked and rendered, coarse and in full; pictures come out
// finite.
#include "core/delivery/project_check.h"
#include "core/frame/render_frame.h"
#include "core/project/file/project_file.h"
#include "core/system/error.h"

#include <cmath>
#include <cstdlib>
#include <fstream>
#include <string_view>
#include <unistd.h>

namespace {

const std::filesystem::path& folder()
{
    static const std::filesystem::path made = [] {
        const auto path =
            std::filesystem::temp_directory_path() / ("retinex-fuzz-" + std::to_string(::getpid()));
        std::filesystem::create_directories(path);
        return path;
    }();
    return made;
}

void write(const char* name, std::string_view bytes)
{
    std::ofstream(folder() / name, std::ios::binary)
        .write(bytes.data(), static_cast<std::streamsize>(bytes.size()));
}

void requireFinite(const retinex::RgbaImage& image)
{
    for (int c = 0; c < retinex::RgbaImage::channels; ++c)
        for (const float value : image.plane(c).pixels())
            if (!std::isfinite(value)) std::abort();
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    using namespace retinex;
    const std::string_view all(reinterpret_cast<const char*>(data), size);
    const std::size_t end = std::min(all.find('\0'), all.size());
    write("fuzz.retinex", all.substr(0, end));
    write("frame.exr", end < all.size() ? all.substr(end + 1) : std::string_view());
    try {
        auto project = std::make_shared<project::Project>(project::loadProject(folder() / "fuzz.retinex"));
        if (project->lastFrame - project->firstFrame > 4) return 0;
        // Nothing beyond the folder is read.
        if (project->colour.file != folder() / "frame.exr") return 0;
        project->depth.file.clear();
        project->passOptions.alpha.file.clear();
        project->scene.file.clear();
        project->mattes.clear();
        const passes::PassSource source(project->colour, project->depth, project->passOptions);
        if (source.width() * static_cast<long>(source.height()) > 96 * 96) return 0;
        (void)delivery::checkProject(*project, folder());
        requireFinite(frame::renderFrame(source, {project, project->firstFrame, 3, {}}, {1, {}, {}}).image);
        requireFinite(frame::renderFrame(source, {project, project->firstFrame, 1, {}}, {1, {}, {}}).image);
    } catch (const Error&) {
    }
    return 0;
}
