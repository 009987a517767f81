#include "core/system/readable_file.h"

#include "core/system/error.h"
#include "core/system/say.h"

#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

namespace retinex {

namespace {

[[noreturn]] void refuse(const std::filesystem::path& file, int why)
{
    switch (why) {
    case ENOENT:
    case ENOTDIR:
        throw Error(say("{}: there is no such file. Check the name and the folder.", file.string()));
    case EACCES:
    case EPERM:
        throw Error(
            say("{}: you may not read this file. Have its permissions changed, or copy it as somebody "
                "who may.",
                file.string()));
    case EMFILE:
    case ENFILE:
        throw Error(
            say("{}: too many files are open at once. Close other programs, or raise the limit on open "
                "files (ulimit -n).",
                file.string()));
    default:
        throw Error(
            say("{}: cannot be opened ({}). Check the disk it is on.", file.string(), std::strerror(why)));
    }
}

} // namespace

void requireReadable(const std::filesystem::path& file)
{
    struct stat state
    {
    };
    if (stat(file.c_str(), &state) != 0) refuse(file, errno);
    if (S_ISDIR(state.st_mode)) throw Error(say("{}: this is a folder. Give a file in it.", file.string()));
    if (!S_ISREG(state.st_mode))
        throw Error(say("{}: this is a pipe or a device. Save what comes from it to a file, and give that.",
                        file.string()));
    const int handle = open(file.c_str(), O_RDONLY | O_CLOEXEC);
    if (handle < 0) refuse(file, errno);
    close(handle);
}

} // namespace retinex
