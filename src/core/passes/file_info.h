#pragma once

#include "core/colour/colorimetry.h"
#include "core/image/pixel_box.h"
#include "core/system/words.h"

#include <cstdint>
#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

/// What an image file says of itself, whatever its format.
namespace retinex::passes {

enum class SampleType { half, float32, uint32, uint8, uint16 };
[[nodiscard]] bool isInteger(SampleType type) noexcept; ///< counts that stand for 0..1 (8, 16 bit)

struct ChannelInfo
{
    std::string name; ///< full name, layer included: "depth.Z"
    SampleType type = SampleType::half;
    std::string eye; ///< of a stereo render: whose it is ("left"); "": of none
};

/// The smallest box that holds both.
[[nodiscard]] PixelBox united(const PixelBox& a, const PixelBox& b) noexcept;

struct PartInfo
{
    std::string name; ///< may be empty
    PixelBox displayWindow;
    PixelBox dataWindow;
    double pixelAspect = 1.0;
    std::string compression; ///< "zip", "piz", ...
    bool tiled = false;
    bool mipMapped = false; ///< the full-size level is the one that is read
    bool deep = false;
    std::optional<colour::Primaries> primaries; ///< where the header says them (`chromaticities`)
    std::vector<std::string> eyes;              ///< in their order, where one part holds several
    std::vector<ChannelInfo> channels;          ///< in file order (alphabetical)

    [[nodiscard]] const ChannelInfo* find(std::string_view channel) const noexcept;
};

struct FileInfo
{
    std::filesystem::path file;
    std::string format = "openexr"; ///< "openexr", "png", "tiff", "pnm", "hdr", ...
    bool unassociatedAlpha = false; ///< colour is not multiplied by alpha in the file
    double framesPerSecond = 0.0;   ///< of a movie
    std::vector<PartInfo> parts;

    [[nodiscard]] const PartInfo& part(int index) const { return parts.at(static_cast<std::size_t>(index)); }
};

/// The eyes of a stereo render, the one that counts as the first (OpenEXR's `multiView`, or the order of
/// parts with `view`); empty for any other.
[[nodiscard]] std::vector<std::string> eyesOf(const FileInfo& info);
/// Without what belongs to other eyes.
[[nodiscard]] FileInfo ofEye(FileInfo info, std::string_view eye);

} // namespace retinex::passes

namespace retinex {

template <>
inline constexpr std::array<std::string_view, 5> kWords<passes::SampleType>{"half", "float", "uint", "8-bit",
                                                                            "16-bit"};

} // namespace retinex
