#pragma once

#include "core/passes/exr_file.h"

#include <optional>
#include <string>
#include <vector>

/// Finding the colour layer and the depth channel among a file's channels. A channel "depth.Z" is component
/// "Z" of layer "depth"; a channel without a dot belongs to the layer named after its part, in a file of
/// several parts, and to the nameless layer otherwise.
namespace retinex::passes {

struct ColourLayer
{
    int part = 0;
    std::string layer;                ///< "" is the nameless layer
    std::string red, green, blue;     ///< full channel names
    std::optional<std::string> alpha; ///< absent: opaque
    SampleType type = SampleType::half;
};

struct DepthChannel
{
    int part = 0;
    std::string channel; ///< full channel name
};

/// All layers with red, green and blue, the nameless one first.
[[nodiscard]] std::vector<ColourLayer> colourLayers(const ExrInfo& info);

/// All channels that may hold depth by their name (Z, depth, zdepth ... in any case, alone or as component),
/// best first.
[[nodiscard]] std::vector<DepthChannel> depthChannels(const ExrInfo& info);

/// The layer called `layer`, or the first one where it is empty. Throws Error listing what there is.
[[nodiscard]] ColourLayer chooseColour(const ExrInfo& info, const std::string& layer);

/// The channel called `channel` (any channel, whatever its name; a layer with one channel will do), or the
/// best candidate where it is empty; a file with a single channel needs no name. Throws Error otherwise.
[[nodiscard]] DepthChannel chooseDepth(const ExrInfo& info, const std::string& channel);

} // namespace retinex::passes
