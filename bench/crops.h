#pragma once

#include "core/image/image.h"

#include <filesystem>
#include <vector>

namespace retinex::bench {

/// A part of a picture, 96 x 64 px.
struct CropPlace
{
    int x = 0;
    int y = 0;
};

/// Where `picture` has most false detail (measure.h), and where it is farthest from `truth` if it has none.
[[nodiscard]] CropPlace worstPlace(const RgbaImage& picture, const RgbaImage& truth);

/// Writes a part of each picture as a PNG, row by row, enlarged three times, as on a screen (held to 0..1,
/// power 1/2.2). Throws Error when the file cannot be written.
void writeCrops(const std::filesystem::path& file, const std::vector<std::vector<const RgbaImage*>>& rows,
                const CropPlace& place);

} // namespace retinex::bench
