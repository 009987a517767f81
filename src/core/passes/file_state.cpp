#include "core/passes/file_state.h"

#include "core/passes/movie/movie_file.h"
#include "core/system/file_state.h"

namespace retinex::passes {

std::string fileState(const std::filesystem::path& file)
{
    const auto frame = movieFrame(file);
    return retinex::fileState(frame ? frame->movie : file);
}

std::string fileState(const Sequence& files, int frame)
{
    return files.has(frame) ? fileState(files.file(frame)) : std::string();
}

} // namespace retinex::passes
