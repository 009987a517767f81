#include "core/passes/file_state.h"

#include "core/passes/movie/movie_file.h"

#include <sys/stat.h>

namespace retinex::passes {

std::string fileState(const std::filesystem::path& file)
{
    struct stat info = {};
    if (const auto frame = movieFrame(file)) return fileState(frame->movie);
    if (file.empty() || ::stat(file.c_str(), &info) != 0) return {};
    return std::to_string(info.st_size) + '@' + std::to_string(info.st_mtim.tv_sec) + '.' +
           std::to_string(info.st_mtim.tv_nsec) + '/';
}

std::string fileState(const Sequence& files, int frame)
{
    return files.has(frame) ? fileState(files.file(frame)) : std::string();
}

} // namespace retinex::passes
