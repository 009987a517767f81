#pragma once

#include "core/system/words.h"

#include <string>

/// What is asked for at the end: pictures of some kind, in a form, in a place.
namespace retinex::project {

/// Of a file.
enum class FileKind { exr, png, tiff, jpeg, ffv1, prores, h264, vp9 };
/// Of its numbers; a format takes those that it can.
enum class Samples { bits8, bits16, half, float32 };
/// Of EXR.
enum class Compression { zip, zipLine, piz, dwaa, none };
enum class DeliveredSize { full, half, width };
/// What a depth map's numbers are even in.
enum class MapSpacing { distance, reciprocal };

struct Delivery
{
    std::string id;
    std::string name;
    bool isOn = true;
    /// One of finished, unfinished, source, distance, coc, depthmap, areas; several, separated by ", ",
    /// become the layers of one EXR, the first one's channels without a layer's name.
    std::string what = "finished";
    FileKind file = FileKind::exr;
    Samples samples = Samples::half;
    Compression compression = Compression::zip;
    double level = 1.0; ///< of ZIP, 1 to 9 (docs/performance.md weighs them); of DWAA its loss, 45 as usual
    std::string colourSpace; ///< "": scene-linear for EXR and float, the screen's texture space for the rest
    DeliveredSize size = DeliveredSize::full;
    double widthPx = 1920.0;
    bool keepsOverscan = false;
    bool bothEyes = false;                        ///< of a stereo render: each, with {eye} in the name
    std::string frames;                           ///< see frame_list.h; "": all
    std::string fileName = "{project}.{frame:4}"; ///< see file_name.h; its ending follows
    std::string folder;                           ///< "": NAME beside the project; may be relative to it
    double framesPerSecond = 0.0;                 ///< of a movie; 0: as it is played
    bool burnsIn = false;                         ///< frame, shot, focus distance and f-stop, into a movie
    bool nearIsBright = true;                     ///< of a depth map, as the next
    MapSpacing spacing = MapSpacing::reciprocal;
    double mapNearest = 0.0; ///< scene units; 0: the nearest surface of the frames
    double mapFarthest = 0.0;
    std::string unknown{}; ///< what its file held besides

    [[nodiscard]] bool isMovie() const noexcept { return file >= FileKind::ffv1; }
    friend bool operator==(const Delivery&, const Delivery&) = default;
};

/// What a kind of file takes of `asked`: the same, or the next that it can hold.
[[nodiscard]] constexpr Samples samplesIn(FileKind file, Samples asked) noexcept
{
    switch (file) {
    case FileKind::exr:
        return asked == Samples::float32 ? asked : Samples::half;
    case FileKind::jpeg:
        return Samples::bits8;
    case FileKind::tiff:
        return asked == Samples::half ? Samples::float32 : asked;
    default:
        return asked == Samples::bits8 ? asked : Samples::bits16;
    }
}

} // namespace retinex::project

namespace retinex {

template <>
inline constexpr std::array<std::string_view, 8> kWords<project::FileKind>{"exr",  "png",    "tiff", "jpeg",
                                                                           "ffv1", "prores", "h264", "vp9"};
template <>
inline constexpr std::array<std::string_view, 4> kWords<project::Samples>{"8", "16", "half", "float"};
template <>
inline constexpr std::array<std::string_view, 5> kWords<project::Compression>{"zip", "zip line", "piz",
                                                                              "dwaa", "none"};
template <>
inline constexpr std::array<std::string_view, 3> kWords<project::DeliveredSize>{"full", "half", "width"};
template <>
inline constexpr std::array<std::string_view, 2> kWords<project::MapSpacing>{"distance", "reciprocal"};

} // namespace retinex
