#pragma once

#include "core/passes/sequence.h"

#include <string>

/// Whether files are what they were: by size and time of change.
namespace retinex::passes {

/// "SIZE@TIME/"; "" where there is no such file.
[[nodiscard]] std::string fileState(const std::filesystem::path& file);
/// Of what a frame is read from; "" where the frame is not there.
[[nodiscard]] std::string fileState(const Sequence& files, int frame);

} // namespace retinex::passes
