#pragma once

#include "core/passes/sequence.h"

#include <string>

/// In which state the files of passes are (core/system/file_state.h); of a frame of a movie that of the
/// movie.
namespace retinex::passes {

[[nodiscard]] std::string fileState(const std::filesystem::path& file);
/// Of what a frame is read from; "" where the frame is not there.
[[nodiscard]] std::string fileState(const Sequence& files, int frame);

} // namespace retinex::passes
