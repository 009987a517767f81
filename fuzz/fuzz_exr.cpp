// Any bytes as an EXR file: headers, mattes, and the first channels of each part.
#include "core/passes/exr/exr_file.h"
#include "core/passes/layers.h"
#include "core/passes/mattes/cryptomatte.h"
#include "core/system/error.h"
#include "fuzz/input_file.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    using namespace retinex;
    const fuzz::InputFile input(data, size, ".exr");
    try {
        const auto info = passes::inspectExr(input.path());
        (void)passes::colourLayers(info);
        (void)passes::depthChannels(info);
        (void)passes::idMatteSets(input.path());
        for (std::size_t part = 0; part < info.parts.size() && part < 4; ++part) {
            const auto& box = info.parts[part].dataWindow;
            // Large pictures that may be are slow, not wrong.
            if (static_cast<long long>(box.width()) * box.height() > 1 << 20) continue;
            std::vector<std::string> channels;
            for (const auto& channel : info.parts[part].channels)
                if (channels.size() < 6) channels.push_back(channel.name);
            try {
                (void)passes::readExrChannels(input.path(), static_cast<int>(part), channels,
                                              {0.0F, passes::Extent::displayWindow});
            } catch (const Error&) {
            }
        }
    } catch (const Error&) {
    }
    return 0;
}
