#include "core/passes/frames/luminance.h"

namespace retinex::passes {

Plane<float> luminanceOf(const Plane<float>& red, const Plane<float>& green, const Plane<float>& blue)
{
    Plane<float> result(red.width(), red.height());
    for (std::size_t i = 0; i < result.size(); ++i) {
        const float r = red.pixels()[i];
        const float g = green.pixels()[i];
        const float b = blue.pixels()[i];
        // A grey keeps its exact number: 8-bit steps must stay steps.
        result.pixels()[i] = r == g && g == b ? r : 0.2126F * r + 0.7152F * g + 0.0722F * b;
    }
    return result;
}

ChannelPlanes readNumbers(const std::filesystem::path& file, const DepthChannel& channel,
                          const ReadOptions& options)
{
    ChannelPlanes read = readChannels(file, channel.part, channel.parts, options);
    if (channel.isLuminance()) read.planes = {luminanceOf(read.planes[0], read.planes[1], read.planes[2])};
    return read;
}

} // namespace retinex::passes
