#pragma once

#include "core/image/deep_picture.h"
#include "core/passes/exr/exr_file.h"

#include <array>
#include <cstdint>

/// Deep EXR: several samples a pixel, each with a depth and an alpha of its own. The lens engine spreads each
/// at its own distance; whatever else asks for a picture gets them flattened.
namespace retinex::passes {

/// The samples of one part, pixel after pixel, row after row of the data window.
struct DeepSamples
{
    int width = 0;
    int height = 0;
    std::vector<std::size_t> first;         ///< pixel i has samples first[i] to first[i + 1]; size + 1 long
    std::vector<std::string> channels;      ///< names of the channels read
    std::vector<std::vector<float>> values; ///< one list per channel, as long as all samples
    [[nodiscard]] const std::vector<float>* find(const std::string& channel) const noexcept;
};

/// Reads `channels` and, where the part has them, Z, ZBack and A, and makes them tidy (deep_tidy.h). Throws
/// Error when the sample counts ask for more than kMostDeepSamples.
[[nodiscard]] DeepSamples readDeepSamples(const std::filesystem::path& file, Imf::MultiPartInputFile& input,
                                          int part, const PartInfo& info,
                                          const std::vector<std::string>& channels);

/// Where the colour, alpha and depth of a deep picture are among the channels read.
struct DeepChannels
{
    std::array<std::string, 3> colour;
    std::string alpha; ///< "": opaque
    std::string depth;
};

/// The samples laid into `window` (they cover `dataWindow`). Samples with values that are not finite
/// are left out. Depth is as stored, and so is ZBack where `depth` is Z; samples are in the order they are
/// in.
[[nodiscard]] DeepPicture deepPicture(const DeepSamples& samples, const DeepChannels& channels,
                                      const PixelBox& dataWindow, const PixelBox& window);

/// One plane per channel: Z becomes the depth of the nearest sample with alpha above 0 (0 where there is
/// none); every other channel is composited by "over" from front to back (Porter and Duff, "Compositing
/// Digital Images", SIGGRAPH 1984); values are premultiplied, as the OpenEXR document "Interpreting OpenEXR
/// Deep Pixels" says. Without an A channel samples are opaque.
[[nodiscard]] std::vector<Plane<float>> flattened(const DeepSamples& samples,
                                                  const std::vector<std::string>& channels);

} // namespace retinex::passes
