#pragma once

#include "core/colour/input_space.h"
#include "core/passes/file_info.h"
#include "core/system/error.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

/// Finding colour layers, depth channels and mattes among a file's channels. A channel "depth.Z" is component
/// "Z" of layer "depth"; a channel without a dot belongs to the layer named after its part, in a file of
/// several parts, and to the nameless layer otherwise.
namespace retinex::passes {

struct ColourLayer
{
    int part = 0;
    std::string layer;                ///< "" is the nameless layer
    std::string red, green, blue;     ///< full channel names; all the same for a grey picture
    std::optional<std::string> alpha; ///< absent: opaque
    SampleType type = SampleType::half;
};

/// The colour space a layer is taken to be in where nobody says.
[[nodiscard]] colour::InputSpace inputSpaceOf(const FileInfo& info, const ColourLayer& layer);

/// Where depth is read from: one channel, or the luminance of three.
struct DepthChannel
{
    int part = 0;
    std::string channel;            ///< full channel name; for luminance as luminanceName gives it
    std::vector<std::string> parts; ///< the channels read: one, or red, green and blue
    SampleType type = SampleType::half;
    [[nodiscard]] bool isLuminance() const noexcept { return parts.size() == 3; }
};

/// "luminance", or "depth.luminance" for the layer "depth": how the luminance of a layer is asked for.
[[nodiscard]] std::string luminanceName(const std::string& layer);

/// A channel and where it stands, for choosers that group by layer.
struct ChannelPlace
{
    int part = 0;
    std::string layer;
    std::string component;
    std::string channel; ///< full name
    SampleType type = SampleType::half;
};
/// All channels, in file order.
[[nodiscard]] std::vector<ChannelPlace> channelPlaces(const FileInfo& info);

/// All layers with red, green and blue, the nameless one first; a lone grey channel ("Y") is one too.
[[nodiscard]] std::vector<ColourLayer> colourLayers(const FileInfo& info);

/// All channels that may hold depth by their name (Z, depth, zdepth ... in any case, alone or as component),
/// best first.
[[nodiscard]] std::vector<DepthChannel> depthChannels(const FileInfo& info);

/// Where motion vectors are read from: two channels, the horizontal one mostly first.
struct MotionChannels
{
    int part = 0;
    std::string layer;
    std::array<std::string, 2> channels; ///< full names
};

/// Layers that hold motion vectors by their name (motion, velocity, vector, flow ... with x and y, u and v,
/// or red and green), in file order.
[[nodiscard]] std::vector<MotionChannels> motionChannels(const FileInfo& info);
/// The layer called `layer` with any two channels of that kind, or the first found by its name where it is
/// empty. Throws Error listing what there is.
[[nodiscard]] MotionChannels chooseMotion(const FileInfo& info, const std::string& layer);

/// A file holds no depth: it may be in another one.
class DepthMissing : public Error
{
public:
    using Error::Error;
};

/// All channels that may hold a matte by their name ("matte.can", "mask.door", ...). Ranks of ID mattes are
/// not among them.
[[nodiscard]] std::vector<ChannelPlace> matteChannels(const FileInfo& info);

/// The layer called `layer`, or the first one where it is empty; the name of a channel means that as a grey
/// picture. Throws Error listing what there is.
[[nodiscard]] ColourLayer chooseColour(const FileInfo& info, const std::string& layer);

/// The channel called `channel` (any channel, whatever its name; a layer with one channel will do; a layer's
/// luminance by luminanceName), or the best candidate where it is empty. A file with a single channel needs
/// no name; nor does one with nothing but colour when `alone`: its luminance is taken. Throws Error
/// otherwise.
[[nodiscard]] DepthChannel chooseDepth(const FileInfo& info, const std::string& channel, bool alone = false);

} // namespace retinex::passes
