#include "core/system/atomic_file.h"

#include "core/system/error.h"
#include "core/system/say.h"

#include <atomic>
#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <fmt/format.h>
#include <regex>
#include <sys/file.h>
#include <unistd.h>

namespace retinex {

namespace {

namespace fs = std::filesystem;

std::string adviceFor(int code, const fs::path& folder)
{
    switch (code) {
    case ENOSPC:
    case EDQUOT:
        return fmt::format("the disk that holds {} is full. Free some space or choose another folder",
                           folder.string());
    case EACCES:
    case EPERM:
    case EROFS:
        return fmt::format(
            "the folder {} may not be written to. Choose another folder or change its permissions",
            folder.string());
    case ENOENT:
    case ENOTDIR:
        return fmt::format("there is no folder {}. Make it or choose another", folder.string());
    default:
        return std::strerror(code);
    }
}

[[noreturn]] void fail(const fs::path& file, int code)
{
    const fs::path folder = file.has_parent_path() ? file.parent_path() : fs::path(".");
    throw Error(say("{}: not written: {}.", file.string(), adviceFor(code, folder)), std::strerror(code));
}

/// Its own among those of other processes, and of this one.
fs::path partPath(const fs::path& file)
{
    static std::atomic<unsigned> counter{0};
    return file.parent_path() / fmt::format(".{}.{}-{}.part{}", file.stem().string(), ::getpid(), counter++,
                                            file.extension().string());
}

int openPart(const fs::path& path)
{
    const int descriptor = ::open(path.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0666);
    // Where there are no locks, nothing is told of them.
    if (descriptor >= 0) (void)::flock(descriptor, LOCK_EX | LOCK_NB);
    return descriptor;
}

bool writeAll(int descriptor, std::string_view bytes)
{
    while (!bytes.empty()) {
        const ssize_t count = ::write(descriptor, bytes.data(), bytes.size());
        if (count < 0 && errno == EINTR) continue;
        if (count < 0) return false;
        bytes.remove_prefix(static_cast<std::size_t>(count));
    }
    return true;
}

bool isPartName(const std::string& name)
{
    static const std::regex pattern(R"(^\..*\.[0-9]+-[0-9]+\.part(\.[^.]*)?$)");
    return std::regex_match(name, pattern);
}

} // namespace

PartFile::PartFile(fs::path file) : m_file(std::move(file)), m_path(partPath(m_file))
{
    m_descriptor = openPart(m_path);
    if (m_descriptor < 0) fail(m_file, errno);
}

PartFile::~PartFile()
{
    if (m_descriptor < 0) return;
    ::close(m_descriptor);
    ::unlink(m_path.c_str());
}

void PartFile::write(std::string_view bytes)
{
    if (!writeAll(m_descriptor, bytes)) fail(m_file, errno);
}

void PartFile::finish()
{
    if (::fsync(m_descriptor) != 0 || ::rename(m_path.c_str(), m_file.c_str()) != 0) fail(m_file, errno);
    ::close(std::exchange(m_descriptor, -1));
}

void removeAbandoned(const fs::path& folder) noexcept
{
    try {
        for (const auto& entry : fs::directory_iterator(folder)) {
            if (!isPartName(entry.path().filename().string()) || !entry.is_regular_file()) continue;
            const int descriptor = ::open(entry.path().c_str(), O_RDONLY | O_CLOEXEC);
            if (descriptor < 0) continue;
            if (::flock(descriptor, LOCK_EX | LOCK_NB) == 0) ::unlink(entry.path().c_str());
            ::close(descriptor);
        }
    } catch (...) { // what stays is hidden and harms nobody
    }
}

void probeFolder(const fs::path& folder)
{
    const fs::path path = partPath(folder / "retinex");
    const int descriptor = openPart(path);
    const bool isWritten =
        descriptor >= 0 && writeAll(descriptor, std::string(4096, ' ')) && ::fsync(descriptor) == 0;
    const int code = errno;
    if (descriptor >= 0) {
        ::close(descriptor);
        ::unlink(path.c_str());
    }
    if (isWritten) return;
    const char* reason = code == ENOSPC || code == EDQUOT
                             ? "its disk is full. Free some space or choose another"
                         : code == EACCES || code == EPERM || code == EROFS
                             ? "it may not be written to. Choose another or change its permissions"
                             : "no files can be made in it. Choose another";
    throw Error(say("{}: nothing can be written to this folder: {}.", folder.string(), reason),
                std::strerror(code));
}

void writeFileAtomically(const fs::path& file, std::string_view bytes)
{
    PartFile part(file);
    part.write(bytes);
    part.finish();
}

} // namespace retinex
