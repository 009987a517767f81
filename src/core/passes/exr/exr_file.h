#pragma once

#include "core/image/image.h"
#include "core/passes/file_info.h"
#include "core/system/run.h"

#include <ImfForward.h>
#include <memory>
#include <string>
#include <vector>

/// Reading OpenEXR files: scanline, tiled, mip-mapped and deep, one part or several, every compression. Every
/// function throws Error naming the file when it is missing, damaged, cut short or too large.
namespace retinex::passes {

/// A header may claim any size: what is larger is refused before memory is taken. 2^28 pixels is a picture of
/// 16384 x 16384; a file has at most 1024 channels and a deep one at most 2^28 samples.
constexpr long long kMostPixels = 1LL << 28;
constexpr std::size_t kMostChannels = 1024;
constexpr long long kMostDeepSamples = 1LL << 28;

/// Everything a header says besides its channels, kept so that it can be written again. May be null.
using HeaderPtr = std::shared_ptr<const Imf::Header>;

/// Which pixels are wanted of a picture whose data window is not its display window.
enum class Extent {
    displayWindow, ///< the frame itself
    everything     ///< the smallest box that holds both windows: overscan too
};

struct DeepSamples; // exr_deep.h

/// Channels as float planes, each the size of `window`.
struct ChannelPlanes
{
    std::vector<Plane<float>> planes;        ///< one per channel asked for
    PixelBox window;                         ///< what they cover
    PixelBox dataWindow;                     ///< where the file has values; elsewhere they hold `outside`
    HeaderPtr header;                        ///< null for formats other than EXR
    std::shared_ptr<const DeepSamples> deep; ///< of a deep part: what the planes were flattened from
};

/// How to read; see readExrChannels.
struct ReadOptions
{
    float outside = 0.0F; ///< what pixels outside the data window get
    Extent extent = Extent::displayWindow;
    Run run{}; ///< threads and stop; the latter throws Cancelled
};

/// Reads headers only.
[[nodiscard]] FileInfo inspectExr(const std::filesystem::path& file);

/// The header of one part alone.
[[nodiscard]] HeaderPtr readExrHeader(const std::filesystem::path& file, int part);

/// Reads channels of one part as float (half and uint are converted); other channels are not converted or
/// kept. Of mip-mapped parts the full-size level is read. Deep parts are flattened: colour by "over" from
/// front to back, a channel called Z by its nearest sample that is not transparent (see exr_deep.h).
[[nodiscard]] ChannelPlanes readExrChannels(const std::filesystem::path& file, int part,
                                            const std::vector<std::string>& channels,
                                            const ReadOptions& options = {});

/// Throws Error when the windows of a part are empty, too large, or lie too far from each other.
void checkSizes(const std::filesystem::path& file, const PartInfo& part);
/// Throws Error when a picture of `bytes` cannot come out of a file this small, were it packed `ratio` to
/// one: a header that lies about its size is refused before memory is taken.
void checkPlausible(const std::filesystem::path& file, double bytes, double ratio);
/// Lays planes of the data window into the window that `options` asks for.
void layOut(ChannelPlanes& channels, const PartInfo& part, const ReadOptions& options);

} // namespace retinex::passes
