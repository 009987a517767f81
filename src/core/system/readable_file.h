#pragma once

#include <filesystem>

namespace retinex {

/// Throws Error, saying what is the matter, unless `file` is a plain file that can be opened for reading now:
/// absent, a folder, a pipe or a device, not allowed, too many files open. A pipe would be waited for.
void requireReadable(const std::filesystem::path& file);

} // namespace retinex
