// Any bytes as a picture of any format: the file's own first bytes say which.
#include "core/passes/image_file.h"
#include "core/system/error.h"
#include "fuzz/input_file.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    using namespace retinex;
    // The first byte chooses an ending; formats are told by it and by the bytes.
    static const char* const endings[] = {".png", ".tif", ".pfm", ".hdr", ".pgm", ".exr"};
    if (size < 1) return 0;
    const fuzz::InputFile input(data + 1, size - 1, endings[data[0] % 6]);
    try {
        const auto info = passes::inspectFile(input.path());
        const auto& part = info.parts.at(0);
        if (static_cast<long long>(part.dataWindow.width()) * part.dataWindow.height() <= 1 << 20)
            (void)passes::readChannels(input.path(), 0, {part.channels.at(0).name});
    } catch (const Error&) {
    } catch (const std::out_of_range&) { // no part, no channel
    }
    return 0;
}
