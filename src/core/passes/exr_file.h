#pragma once

#include "core/base/image.h"

#include <ImfForward.h>
#include <filesystem>
#include <memory>
#include <string>
#include <vector>

/// OpenEXR files: what is in them, and their channels as float planes. Scanline and tiled files, one part or
/// several. Every function throws Error naming the file when it is missing, damaged, cut short or too large.
namespace retinex::passes {

enum class SampleType { half, float32, uint32 };
[[nodiscard]] std::string_view name(SampleType type) noexcept; ///< "half", "float", "uint"

struct ChannelInfo
{
    std::string name; ///< full name, layer included: "depth.Z"
    SampleType type = SampleType::half;
};

/// Inclusive pixel bounds, as EXR gives them.
struct PixelBox
{
    int minX = 0;
    int minY = 0;
    int maxX = -1;
    int maxY = -1;
    [[nodiscard]] int width() const noexcept { return maxX - minX + 1; }
    [[nodiscard]] int height() const noexcept { return maxY - minY + 1; }
    friend bool operator==(const PixelBox&, const PixelBox&) = default;
};

struct PartInfo
{
    std::string name; ///< may be empty
    PixelBox displayWindow;
    PixelBox dataWindow;
    double pixelAspect = 1.0;
    std::string compression; ///< "zip", "piz", ...
    bool tiled = false;
    bool deep = false;
    std::vector<ChannelInfo> channels; ///< in file order (alphabetical)

    [[nodiscard]] const ChannelInfo* find(std::string_view channel) const noexcept;
};

struct ExrInfo
{
    std::filesystem::path file;
    std::vector<PartInfo> parts;
};

/// Reads headers only.
[[nodiscard]] ExrInfo inspectExr(const std::filesystem::path& file);

/// Everything a header says besides its channels, kept so that it can be written again. May be null.
using HeaderPtr = std::shared_ptr<const Imf::Header>;

struct ExrChannels
{
    std::vector<Plane<float>> planes; ///< one per channel asked for, each the size of the display window
    HeaderPtr header;
};

/// Reads channels of one part as float (half and uint are converted). Pixels of the display window outside
/// the data window get `outside`; what the data window has beyond the display window is left out.
[[nodiscard]] ExrChannels readExrChannels(const std::filesystem::path& file, int part,
                                          const std::vector<std::string>& channels, float outside = 0.0F);

/// One picture to be written.
struct ExrOutput
{
    const RgbaImage* image = nullptr; ///< channels R, G, B, A; not null
    SampleType type = SampleType::half;
    HeaderPtr keep;           ///< attributes of the input to carry over; may be null
    double focusMetres = 0.0; ///< standard attribute `focus`: the focusing distance in metres
    double fStop = 0.0;       ///< standard attribute `aperture`: the lens aperture in f-stops
};

/// Encodes with ZIP compression and writes through a temporary file and a rename: the file is either whole
/// or as it was before. Values beyond the range of half are held at its largest number.
void writeExr(const std::filesystem::path& file, const ExrOutput& output);

} // namespace retinex::passes
