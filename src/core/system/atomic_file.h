#pragma once

#include <filesystem>
#include <string_view>

namespace retinex {

/// A hidden file in the folder of `file`, with the same ending, that becomes `file` when it is whole. Until
/// then it is locked (flock), which ends with the process: what a killed one leaves can be told and taken
/// away.
class PartFile
{
public:
    /// Throws Error naming `file` and the reason: no such folder, not writable, disk full.
    explicit PartFile(std::filesystem::path file);
    /// Removes what was not finished.
    ~PartFile();
    PartFile(const PartFile&) = delete;
    PartFile& operator=(const PartFile&) = delete;

    /// There and empty; other programs may write it.
    [[nodiscard]] const std::filesystem::path& path() const noexcept { return m_path; }
    /// Throws Error likewise.
    void write(std::string_view bytes);
    /// Syncs it and renames it over `file`: a reader sees the old file or the whole new one, never a part.
    /// Throws Error likewise.
    void finish();

private:
    std::filesystem::path m_file;
    std::filesystem::path m_path;
    int m_descriptor = -1;
};

/// Takes the unfinished files of processes that are gone out of a folder. Never throws.
void removeAbandoned(const std::filesystem::path& folder) noexcept;

/// Writes `bytes` by way of a PartFile. Throws Error likewise.
void writeFileAtomically(const std::filesystem::path& file, std::string_view bytes);

/// Makes a file in `folder` and takes it away again. Throws Error saying why that cannot be done: there is no
/// such folder, it may not be written to, the disk is full.
void probeFolder(const std::filesystem::path& folder);

} // namespace retinex
