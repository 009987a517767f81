#include "core/passes/image_file.h"

#include "core/passes/format_module.h"
#include "core/passes/movie/movie_file.h"
#include "core/system/error.h"
#include "core/system/lower.h"
#include "core/system/readable_file.h"
#include "core/system/say.h"

#include <algorithm>
#include <array>
#include <dlfcn.h>
#include <fmt/format.h>
#include <fstream>

namespace retinex::passes {

namespace {

namespace fs = std::filesystem;

/// An EXR file begins with these four bytes (OpenEXR file layout, "magic number").
constexpr std::array<unsigned char, 4> kExrMagic{0x76, 0x2f, 0x31, 0x01};

std::string ending(const fs::path& file)
{
    return lower(file.extension().string());
}

/// A file named .exr is taken for one even when its first bytes are damaged, so that the message fits.
bool isExr(const fs::path& file)
{
    std::array<char, 4> bytes{};
    std::ifstream(file, std::ios::binary).read(bytes.data(), bytes.size());
    const bool magic = std::equal(bytes.begin(), bytes.end(), kExrMagic.begin(),
                                  [](char a, unsigned char b) { return static_cast<unsigned char>(a) == b; });
    return magic || ending(file) == ".exr";
}

const FormatModule* loadModule()
{
    std::error_code code;
    const fs::path folder = fs::read_symlink("/proc/self/exe", code).parent_path();
    for (const fs::path& path : {folder / kFormatModuleFile, folder / "../lib/retinex" / kFormatModuleFile}) {
        if (!fs::exists(path, code)) continue;
        void* handle = dlopen(path.c_str(), RTLD_NOW | RTLD_LOCAL);
        if (!handle)
            throw Error(
                say("The module that reads PNG, TIFF, PFM and HDR cannot be loaded. Install the package "
                    "of OpenImageIO 2.4, or convert the file to EXR."),
                dlerror());
        using Entry = const FormatModule* (*)();
        if (const auto entry = reinterpret_cast<Entry>(dlsym(handle, kFormatModuleEntry))) return entry();
    }
    throw Error(say("The module that reads PNG, TIFF, PFM and HDR ({}) is not beside the program. "
                    "Install it, or convert the file to EXR.",
                    kFormatModuleFile));
}

} // namespace

const FormatModule& formatModule()
{
    static const FormatModule* module = loadModule();
    return *module;
}

FileInfo inspectFile(const fs::path& file)
{
    if (isMovie(file) || movieFrame(file)) return inspectMovie(file);
    requireReadable(file);
    return isExr(file) ? inspectExr(file) : formatModule().inspect(file);
}

ChannelPlanes readChannels(const fs::path& file, int part, const std::vector<std::string>& channels,
                           const ReadOptions& options)
{
    if (isMovie(file) || movieFrame(file)) return readMovieChannels(file, channels, options);
    requireReadable(file);
    return isExr(file) ? readExrChannels(file, part, channels, options)
                       : formatModule().read(file, part, channels, options);
}

const std::vector<std::string>& pictureEndings()
{
    static const std::vector<std::string> endings{".exr", ".png",  ".tif", ".tiff", ".pfm", ".hdr",
                                                  ".jpg", ".jpeg", ".pgm", ".ppm",  ".dpx", ".tga"};
    return endings;
}

bool looksLikePicture(const fs::path& file)
{
    const auto& all = pictureEndings();
    return std::find(all.begin(), all.end(), ending(file)) != all.end() || isMovie(file);
}

} // namespace retinex::passes
