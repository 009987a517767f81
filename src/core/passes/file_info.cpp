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

} // namespace retinex::passes
