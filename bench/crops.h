#pragma once

#include "core/base/image.h"

#include <filesystem>

namespace retinex::bench {

/// Writes the 96 x 64 px where `picture` is farthest from `truth` as a PNG, enlarged three times: ours on the
/// left, the traced one on the right, as on a screen (held to 0..1, power 1/2.2). Throws Error when the file
/// cannot be written.
void writeWorstCrop(const std::filesystem::path& file, const RgbaImage& picture, const RgbaImage& truth);

} // namespace retinex::bench
