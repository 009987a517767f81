#include "core/system/file_state.h"

#include "core/system/hash.h"

#include <fstream>
#include <iterator>
#include <sys/stat.h>

namespace retinex {

namespace {

/// Bytes. Tables and scenes are written anew within one tick of a clock, and with their old time by copying.
constexpr off_t kSmall = 65536;

} // namespace

std::string fileState(const std::filesystem::path& file)
{
    struct stat info = {};
    if (file.empty() || ::stat(file.c_str(), &info) != 0) return {};
    std::string state = fmt::format("{}@{}.{}", info.st_size, info.st_mtim.tv_sec, info.st_mtim.tv_nsec);
    if (S_ISREG(info.st_mode) && info.st_size <= kSmall) {
        std::ifstream in(file, std::ios::binary);
        state += ' ' + hashText(std::string(std::istreambuf_iterator<char>(in), {}));
    }
    return state + '/';
}

} // namespace retinex
