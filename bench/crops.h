#pragma once

#include "core/base/image.h"

#include <filesystem>

namespace retinex::bench {

/// Writes the 96 x 64 px where `picture` has most false detail (measure.h), and where it is farthest from
/// `truth` if it has none, as a PNG, enlarged three times: ours, the traced one, the probe's, as on a screen
/// (held to 0..1, power 1/2.2). Throws Error when the file cannot be written.
void writeWorstCrop(const std::filesystem::path& file, const RgbaImage& picture, const RgbaImage& truth,
                    const RgbaImage& probed);

} // namespace retinex::bench
