#pragma once

#include "core/passes/exr/exr_file.h"

#include <optional>
#include <string>
#include <utility>
#include <vector>

/// Writing pictures of any format.
namespace retinex::passes {

struct WrittenChannel
{
    std::string name; ///< "R", "depth.Z"; of formats other than EXR the order counts: grey, or R, G, B and A
    const Plane<float>* values = nullptr; ///< not null; all of one size
};

struct PictureOutput
{
    std::vector<WrittenChannel> channels;
    SampleType type = SampleType::half; ///< uint8, uint16, half or float32
    bool isUnassociated = false;        ///< colour is not multiplied by alpha; of formats other than EXR
    std::string colourSpace;            ///< as the format can say it ("sRGB", "scene_linear"); "": not said
    std::vector<std::pair<std::string, std::string>> texts; ///< attributes
    double jpegQuality = 92.0;
};

/// Writes a PNG, TIFF or JPEG file, by the ending of its name, through the format module; the file is whole
/// or as it was before. Numbers are held to 0..1 for integers. Throws Error naming the file.
void writePicture(const std::filesystem::path& file, const PictureOutput& output);

} // namespace retinex::passes
