// The format module: OpenImageIO behind the FormatModule interface. Nothing else of the program links it.
#include "core/passes/format_module.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <OpenImageIO/imageio.h>
#include <algorithm>
#include <array>
#include <cctype>
#include <fmt/format.h>
#include <fstream>
#include <string_view>
#include <sys/mman.h>
#include <unistd.h>

namespace retinex::passes {

namespace {

namespace fs = std::filesystem;

[[noreturn]] void fail(const fs::path& file, const std::string& cause)
{
    throw Error(say("{}: this picture cannot be read: it is damaged, cut short, or of a format this "
                    "program does not know. Write it again, or convert it to EXR.",
                    file.string()),
                cause);
}

SampleType sampleType(const OIIO::TypeDesc& type)
{
    switch (type.basetype) {
    case OIIO::TypeDesc::UINT8:
    case OIIO::TypeDesc::INT8:
        return SampleType::uint8;
    case OIIO::TypeDesc::UINT16:
    case OIIO::TypeDesc::INT16:
        return SampleType::uint16;
    case OIIO::TypeDesc::HALF:
        return SampleType::half;
    case OIIO::TypeDesc::UINT32:
    case OIIO::TypeDesc::INT32:
        return SampleType::uint32;
    default:
        return SampleType::float32;
    }
}

/// Channels without a name are numbered.
std::string channelName(const OIIO::ImageSpec& spec, int index)
{
    const std::string& name = spec.channel_name(index);
    return name.empty() ? fmt::format("channel{}", index) : name;
}

PartInfo describe(const OIIO::ImageSpec& spec)
{
    PartInfo part;
    part.dataWindow = {spec.x, spec.y, spec.x + spec.width - 1, spec.y + spec.height - 1};
    part.displayWindow = {spec.full_x, spec.full_y, spec.full_x + spec.full_width - 1,
                          spec.full_y + spec.full_height - 1};
    part.name = spec.get_string_attribute("oiio:subimagename");
    part.pixelAspect = spec.get_float_attribute("PixelAspectRatio", 1.0F);
    if (!(part.pixelAspect > 0.0)) part.pixelAspect = 1.0;
    part.compression = spec.get_string_attribute("compression", "none");
    part.tiled = spec.tile_width > 0;
    for (int c = 0; c < spec.nchannels; ++c)
        part.channels.push_back({channelName(spec, c), sampleType(spec.channelformat(c))});
    return part;
}

/// The reader for a file by its first bytes; null for none. Only these are tried: the library would otherwise
/// hand a damaged file to each of its readers in turn, those of movies and camera files too.
const char* formatOf(const fs::path& file)
{
    std::array<char, 8> bytes{};
    std::ifstream(file, std::ios::binary).read(bytes.data(), bytes.size());
    const std::string_view start(bytes.data(), bytes.size());
    const auto begins = [&](std::string_view magic) { return start.starts_with(magic); };
    using namespace std::string_view_literals;
    if (begins("\x89PNG"sv)) return "png";
    if (begins("II*\0"sv) || begins("MM\0*"sv) || begins("II+\0"sv) || begins("MM\0+"sv)) return "tiff";
    if (begins("#?"sv)) return "hdr";
    if (start[0] == 'P' && ((start[1] >= '1' && start[1] <= '7') || start[1] == 'F' || start[1] == 'f'))
        return "pnm";
    if (begins("\xff\xd8"sv)) return "jpeg";
    if (begins("SDPX"sv) || begins("XPDS"sv)) return "dpx";
    if (file.extension() == ".tga" || file.extension() == ".TGA")
        return "targa"; // has no first bytes of its own
    return nullptr;
}

std::unique_ptr<OIIO::ImageInput> open(const fs::path& file)
{
    const char* const format = formatOf(file);
    auto input = format ? OIIO::ImageInput::create(format) : nullptr;
    if (!input) fail(file, "no known format by its first bytes");
    // Alpha is multiplied in after the colour has been made linear, not before.
    OIIO::ImageSpec hints;
    hints.attribute("oiio:UnassociatedAlpha", 1);
    OIIO::ImageSpec spec;
    if (!input->open(file.string(), spec, hints)) fail(file, input->geterror());
    return input;
}

/// A file that has a name and lies in memory: writers that look back at what they wrote (TIFF) can.
class MemoryFile
{
public:
    MemoryFile() : m_descriptor(::memfd_create("picture", MFD_CLOEXEC)) {}
    ~MemoryFile()
    {
        if (m_descriptor >= 0) ::close(m_descriptor);
    }
    MemoryFile(const MemoryFile&) = delete;
    MemoryFile& operator=(const MemoryFile&) = delete;

    [[nodiscard]] std::string path() const { return fmt::format("/proc/self/fd/{}", m_descriptor); }
    [[nodiscard]] std::string bytes() const
    {
        std::ifstream in(path(), std::ios::binary | std::ios::ate);
        std::string all(static_cast<std::size_t>(std::max<std::streamoff>(0, in.tellg())), '\0');
        in.seekg(0);
        in.read(all.data(), static_cast<std::streamsize>(all.size()));
        return all;
    }

private:
    int m_descriptor;
};

class OiioModule final : public FormatModule
{
public:
    OiioModule()
    {
        OIIO::attribute("limits:channels", static_cast<int>(kMostChannels));
        OIIO::attribute("limits:imagesize_MB", 4096);
    }

    FileInfo inspect(const fs::path& file) const override
    {
        const auto input = open(file);
        FileInfo info;
        info.file = file;
        info.format = input->format_name();
        // Grey and colour without alpha have nothing to multiply.
        info.unassociatedAlpha =
            input->spec().alpha_channel >= 0 &&
            (info.format == "png" || input->spec().get_int_attribute("oiio:UnassociatedAlpha") != 0);
        for (int i = 0; input->seek_subimage(i, 0) && i < 64; ++i)
            info.parts.push_back(describe(input->spec()));
        if (info.parts.empty()) fail(file, input->geterror());
        return info;
    }

    ChannelPlanes read(const fs::path& file, int part, const std::vector<std::string>& channels,
                       const ReadOptions& options) const override
    {
        const auto input = open(file);
        if (part < 0 || !input->seek_subimage(part, 0))
            throw Error(say("{}: has no part {}.", file.string(), part));
        const OIIO::ImageSpec spec = input->spec();
        const PartInfo info = describe(spec);
        checkSizes(file, info);
        if (static_cast<long long>(spec.width) * spec.height * spec.nchannels > 4 * kMostPixels)
            throw Error(say("{}: {} channels of {} x {} px are more than this program takes.", file.string(),
                            spec.nchannels, spec.width, spec.height));
        // No packing of these formats reaches 4000 to one.
        checkPlausible(file, static_cast<double>(spec.image_bytes(true)), 4000.0);
        std::vector<int> wanted;
        for (const std::string& channel : channels) {
            const auto* found = info.find(channel);
            if (!found) throw Error(say("{}: has no channel \"{}\".", file.string(), channel));
            wanted.push_back(static_cast<int>(found - info.channels.data()));
        }
        ChannelPlanes result;
        result.dataWindow = info.dataWindow;
        const auto pixels = static_cast<std::size_t>(spec.width) * static_cast<std::size_t>(spec.height);
        const auto stride = static_cast<std::size_t>(spec.nchannels);
        std::vector<float> all(pixels * stride);
        const bool isRead = input->read_image(part, 0, 0, spec.nchannels, OIIO::TypeDesc::FLOAT, all.data());
        // A file that is cut short may be read "well", with the rest of the picture grey: the error tells.
        if (!isRead || input->has_error()) fail(file, input->geterror());
        for (const int channel : wanted) {
            Plane<float> plane(spec.width, spec.height);
            for (std::size_t i = 0; i < pixels; ++i)
                plane.pixels()[i] = all[i * stride + static_cast<std::size_t>(channel)];
            result.planes.push_back(std::move(plane));
        }
        layOut(result, info, options);
        return result;
    }

    std::string encoded(const fs::path& file, const PictureOutput& picture) const override
    {
        const auto wrong = [&](const std::string& cause) {
            throw Error(
                say("{}: this picture cannot be written. Choose another format or folder.", file.string()),
                cause);
        };
        auto output = OIIO::ImageOutput::create(file.string());
        if (!output) wrong(OIIO::geterror());
        const auto count = static_cast<int>(picture.channels.size());
        const Plane<float>& first = *picture.channels.front().values;
        const auto type = picture.type == SampleType::uint8    ? OIIO::TypeDesc::UINT8
                          : picture.type == SampleType::uint16 ? OIIO::TypeDesc::UINT16
                          : picture.type == SampleType::half   ? OIIO::TypeDesc::HALF
                                                               : OIIO::TypeDesc::FLOAT;
        OIIO::ImageSpec spec(first.width(), first.height(), count, type);
        spec.channelnames.clear();
        for (const WrittenChannel& channel : picture.channels)
            spec.channelnames.push_back(channel.name);
        spec.alpha_channel = count == 4 ? 3 : -1;
        if (picture.isUnassociated) spec.attribute("oiio:UnassociatedAlpha", 1);
        if (!picture.colourSpace.empty()) spec.attribute("oiio:ColorSpace", picture.colourSpace);
        spec.attribute("compression", file.extension() == ".jpg"
                                          ? fmt::format("jpeg:{:.0f}", picture.jpegQuality)
                                          : std::string("zip"));
        for (const auto& [name, text] : picture.texts)
            spec.attribute(name, text);
        const MemoryFile memory;
        if (!output->open(memory.path(), spec)) wrong(output->geterror());
        const auto width = static_cast<std::size_t>(first.width());
        std::vector<float> row(width * static_cast<std::size_t>(count));
        const bool isInteger = picture.type == SampleType::uint8 || picture.type == SampleType::uint16;
        for (int y = 0; y < first.height(); ++y) {
            for (std::size_t c = 0; c < picture.channels.size(); ++c) {
                const float* from = picture.channels[c].values->row(y);
                for (std::size_t x = 0; x < width; ++x) {
                    float value = from[x];
                    if (isInteger) value = value > 0.0F ? std::min(value, 1.0F) : 0.0F;
                    row[x * picture.channels.size() + c] = value;
                }
            }
            if (!output->write_scanline(y, 0, OIIO::TypeDesc::FLOAT, row.data())) wrong(output->geterror());
        }
        if (!output->close()) wrong(output->geterror());
        return memory.bytes();
    }
};

} // namespace

} // namespace retinex::passes

extern "C" __attribute__((visibility("default"))) const retinex::passes::FormatModule* retinexFormatModule()
{
    static const retinex::passes::OiioModule module;
    return &module;
}
