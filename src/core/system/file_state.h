#pragma once

#include <filesystem>
#include <string>

namespace retinex {

/// Whether a file is what it was: size and time of change to the nanosecond, and of a small one what is in
/// it.
/// "" where there is no such file. What pictures depend on is said by core/frame/depends_on.h alone.
[[nodiscard]] std::string fileState(const std::filesystem::path& file);

} // namespace retinex
