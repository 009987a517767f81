#pragma once

#include "core/passes/picture_write.h"

#include <ImfCompression.h>

#include <optional>

/// Writing OpenEXR files.
namespace retinex::passes {

/// One picture to be written.
struct ExrOutput
{
    const RgbaImage* image = nullptr; ///< channels R, G, B, A; null where there are `channels`
    SampleType type = SampleType::half;
    HeaderPtr keep;           ///< attributes of the input to carry over; may be null
    double focusMetres = 0.0; ///< standard attribute `focus`: the focusing distance in metres
    double fStop = 0.0;       ///< standard attribute `aperture`: the lens aperture in f-stops
    bool isConverted =
        false; ///< the colour is in another space than the input's: its chromaticities do not hold
    std::optional<colour::Primaries> chromaticities{}; ///< of the colour, in place of the input's

    std::vector<WrittenChannel> channels{}; ///< in place of those of the image
    Imf::Compression compression = Imf::ZIP_COMPRESSION;
    float level = 1.0F; ///< of ZIP (1 to 9), or of DWAA
    int left = 0;       ///< where the first pixel lies in the frame, px; below 0 with overscan
    int top = 0;
    int frameWidth = 0; ///< 0: the pixels are the frame
    int frameHeight = 0;
    std::vector<std::pair<std::string, std::string>> texts{}; ///< further attributes
};

/// The whole file in memory. Values beyond the range of half are held at its largest number. Throws Error
/// naming `file`.
[[nodiscard]] std::string encodedExr(const std::filesystem::path& file, const ExrOutput& output);

/// Encodes and writes through a temporary file and a rename: the file is either whole
/// or as it was before. Values beyond the range of half are held at its largest number.
void writeExr(const std::filesystem::path& file, const ExrOutput& output);

} // namespace retinex::passes
