#pragma once

#include <filesystem>
#include <functional>
#include <string_view>

namespace retinex {

/// Writes `bytes` to a temporary file in the same folder, syncs it and renames it over `file`: a reader sees
/// the old file or the whole new one, never a part. On failure the temporary file is removed and an Error
/// names the file and the reason (no such folder, not writable, disk full).
void writeFileAtomically(const std::filesystem::path& file, std::string_view bytes);

/// The same for what writes files by itself: `write` is given the name of a file in the same folder with the
/// same ending; what it throws goes on, and the file is removed.
void writeFileAtomically(const std::filesystem::path& file,
                         const std::function<void(const std::filesystem::path& temporary)>& write);

/// Makes a file in `folder` and takes it away again. Throws Error saying why that cannot be done: there is no
/// such folder, it may not be written to, the disk is full.
void probeFolder(const std::filesystem::path& folder);

} // namespace retinex
