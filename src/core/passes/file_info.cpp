#include "core/passes/file_info.h"

#include <algorithm>

namespace retinex::passes {

bool isInteger(SampleType type) noexcept
{
    return type == SampleType::uint8 || type == SampleType::uint16;
}

PixelBox united(const PixelBox& a, const PixelBox& b) noexcept
{
    return {std::min(a.minX, b.minX), std::min(a.minY, b.minY), std::max(a.maxX, b.maxX),
            std::max(a.maxY, b.maxY)};
}

const ChannelInfo* PartInfo::find(std::string_view channel) const noexcept
{
    const auto it = std::find_if(channels.begin(), channels.end(),
                                 [&](const ChannelInfo& info) { return info.name == channel; });
    return it == channels.end() ? nullptr : &*it;
}

std::vector<std::string> eyesOf(const FileInfo& info)
{
    std::vector<std::string> eyes;
    for (const PartInfo& part : info.parts) {
        const auto add = [&](const std::string& eye) {
            if (!eye.empty() && std::ranges::find(eyes, eye) == eyes.end()) eyes.push_back(eye);
        };
        for (const std::string& eye : part.eyes)
            add(eye);
        for (const ChannelInfo& channel : part.channels)
            add(channel.eye);
    }
    if (eyes.size() < 2) eyes.clear();
    return eyes;
}

FileInfo ofEye(FileInfo info, std::string_view eye)
{
    for (PartInfo& part : info.parts)
        std::erase_if(part.channels,
                      [&](const ChannelInfo& channel) { return !channel.eye.empty() && channel.eye != eye; });
    return info;
}

} // namespace retinex::passes
