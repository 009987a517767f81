#include "core/base/atomic_file.h"

#include "core/base/error.h"
#include "core/base/say.h"

#include <atomic>
#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <fmt/format.h>
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

/// Closes and removes an unfinished temporary file.
class TemporaryFile
{
public:
    explicit TemporaryFile(fs::path path) : m_path(std::move(path))
    {
        m_descriptor = ::open(m_path.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC, 0666);
    }
    ~TemporaryFile()
    {
        if (m_descriptor >= 0) ::close(m_descriptor);
        if (!m_kept) ::unlink(m_path.c_str());
    }
    TemporaryFile(const TemporaryFile&) = delete;
    TemporaryFile& operator=(const TemporaryFile&) = delete;

    [[nodiscard]] bool isOpen() const noexcept { return m_descriptor >= 0; }

    [[nodiscard]] bool write(std::string_view bytes)
    {
        while (!bytes.empty()) {
            const ssize_t count = ::write(m_descriptor, bytes.data(), bytes.size());
            if (count < 0 && errno == EINTR) continue;
            if (count < 0) return false;
            bytes.remove_prefix(static_cast<std::size_t>(count));
        }
        return ::fsync(m_descriptor) == 0;
    }
    [[nodiscard]] bool renameTo(const fs::path& file)
    {
        const int descriptor = m_descriptor;
        m_descriptor = -1;
        if (::close(descriptor) != 0 || ::rename(m_path.c_str(), file.c_str()) != 0) return false;
        m_kept = true;
        return true;
    }

private:
    fs::path m_path;
    int m_descriptor = -1;
    bool m_kept = false;
};

} // namespace

void probeFolder(const fs::path& folder)
{
    static std::atomic<unsigned> counter{0};
    TemporaryFile probe(folder / fmt::format(".retinex-{}-{}.part", ::getpid(), counter++));
    if (probe.isOpen() && probe.write(std::string(4096, ' '))) return;
    const int code = errno;
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
    static std::atomic<unsigned> counter{0};
    const fs::path temporary =
        file.parent_path() / fmt::format(".{}.{}-{}.part", file.filename().string(), ::getpid(), counter++);
    TemporaryFile target(temporary);
    if (!target.isOpen() || !target.write(bytes) || !target.renameTo(file)) fail(file, errno);
}

void writeFileAtomically(const fs::path& file, const std::function<void(const fs::path& temporary)>& write)
{
    static std::atomic<unsigned> counter{0};
    const fs::path temporary =
        file.parent_path() / fmt::format(".{}.{}-{}.part{}", file.stem().string(), ::getpid(), counter++,
                                         file.extension().string());
    struct Removed
    {
        const fs::path& path;
        ~Removed() { ::unlink(path.c_str()); }
    } removed{temporary};
    write(temporary);
    const int descriptor = ::open(temporary.c_str(), O_RDONLY | O_CLOEXEC);
    const bool isSynced = descriptor >= 0 && ::fsync(descriptor) == 0;
    const int code = errno;
    if (descriptor >= 0) ::close(descriptor);
    if (!isSynced) fail(file, code);
    if (::rename(temporary.c_str(), file.c_str()) != 0) fail(file, errno);
}

} // namespace retinex
