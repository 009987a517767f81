#include "core/passes/exr_file.h"

#include "core/base/atomic_file.h"
#include "core/base/error.h"

#include <ImfChannelList.h>
#include <ImfCompression.h>
#include <ImfFloatAttribute.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfIO.h>
#include <ImfInputPart.h>
#include <ImfMultiPartInputFile.h>
#include <ImfOutputFile.h>
#include <ImfPartType.h>
#include <ImfStandardAttributes.h>
#include <ImfVersion.h>
#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <half.h>
#include <set>

namespace retinex::passes {

namespace {

namespace fs = std::filesystem;

/// A header may claim any size; refuse before allocating. 2^28 pixels is a 16384 x 16384 picture.
constexpr long long kMostPixels = 1LL << 28;

PixelBox toBox(const Imath::Box2i& box)
{
    return {box.min.x, box.min.y, box.max.x, box.max.y};
}

SampleType toSampleType(Imf::PixelType type)
{
    switch (type) {
    case Imf::HALF:
        return SampleType::half;
    case Imf::UINT:
        return SampleType::uint32;
    default:
        return SampleType::float32;
    }
}

std::string compressionName(Imf::Compression compression)
{
    switch (compression) {
    case Imf::NO_COMPRESSION:
        return "none";
    case Imf::RLE_COMPRESSION:
        return "rle";
    case Imf::ZIPS_COMPRESSION:
        return "zips";
    case Imf::ZIP_COMPRESSION:
        return "zip";
    case Imf::PIZ_COMPRESSION:
        return "piz";
    case Imf::PXR24_COMPRESSION:
        return "pxr24";
    case Imf::B44_COMPRESSION:
        return "b44";
    case Imf::B44A_COMPRESSION:
        return "b44a";
    case Imf::DWAA_COMPRESSION:
        return "dwaa";
    case Imf::DWAB_COMPRESSION:
        return "dwab";
    default:
        return "unknown";
    }
}

PartInfo describe(const Imf::Header& header)
{
    PartInfo part;
    part.name = header.hasName() ? header.name() : std::string{};
    part.displayWindow = toBox(header.displayWindow());
    part.dataWindow = toBox(header.dataWindow());
    part.pixelAspect = header.pixelAspectRatio();
    part.compression = compressionName(header.compression());
    part.tiled = header.hasType() ? Imf::isTiled(header.type()) : header.hasTileDescription();
    part.deep = header.hasType() && Imf::isDeepData(header.type());
    for (auto it = header.channels().begin(); it != header.channels().end(); ++it)
        part.channels.push_back({it.name(), toSampleType(it.channel().type)});
    return part;
}

void requireReadable(const fs::path& file)
{
    std::error_code code;
    if (!fs::exists(file, code))
        throw Error(fmt::format("{}: there is no such file. Check the name and the folder.", file.string()));
    if (fs::is_directory(file, code))
        throw Error(fmt::format("{}: this is a folder. Give a file in it.", file.string()));
}

[[noreturn]] void throwUnreadable(const fs::path& file, const std::exception& cause)
{
    throw Error(fmt::format("{}: this is not a readable EXR file; it may be damaged or cut short. "
                            "Render or copy it again.",
                            file.string()),
                cause.what());
}

/// The header is sound but what follows is not.
[[noreturn]] void throwIncomplete(const fs::path& file, const std::string& cause = {})
{
    throw Error(
        fmt::format("{}: the picture cannot be read to its end: rows are missing or damaged. The render may "
                    "still be writing it, or a copy broke off: wait, or copy it again.",
                    file.string()),
        cause);
}

void checkSizes(const fs::path& file, const PartInfo& part)
{
    for (const PixelBox& box : {part.displayWindow, part.dataWindow}) {
        const long long width = static_cast<long long>(box.maxX) - box.minX + 1;
        const long long height = static_cast<long long>(box.maxY) - box.minY + 1;
        if (width <= 0 || height <= 0 || width > kMostPixels || height > kMostPixels ||
            width * height > kMostPixels)
            throw Error(
                fmt::format("{}: the header gives a picture of {} x {} px, which cannot be right or is "
                            "more than this program takes. Render it again.",
                            file.string(), width, height));
    }
}

/// Copies the part of `data` (placed at `dataWindow`) that lies in the display window.
Plane<float> placed(Plane<float>&& data, const PartInfo& part, float outside)
{
    if (part.dataWindow == part.displayWindow) return std::move(data);
    const PixelBox& display = part.displayWindow;
    const PixelBox& window = part.dataWindow;
    Plane<float> plane(display.width(), display.height(), outside);
    const int x0 = std::max(display.minX, window.minX);
    const int x1 = std::min(display.maxX, window.maxX);
    for (int y = std::max(display.minY, window.minY); y <= std::min(display.maxY, window.maxY); ++y)
        if (x0 <= x1)
            std::copy_n(data.row(y - window.minY) + (x0 - window.minX), x1 - x0 + 1,
                        plane.row(y - display.minY) + (x0 - display.minX));
    return plane;
}

/// Collects the encoded file in memory, so that writing it can be checked step by step.
class MemoryStream final : public Imf::OStream
{
public:
    MemoryStream() : Imf::OStream("memory") {}
    void write(const char data[], int count) override
    {
        const auto size = static_cast<std::size_t>(count);
        if (m_position + size > m_bytes.size()) m_bytes.resize(m_position + size);
        std::copy_n(data, size, m_bytes.begin() + static_cast<std::ptrdiff_t>(m_position));
        m_position += size;
    }
    std::uint64_t tellp() override { return m_position; }
    void seekp(std::uint64_t position) override { m_position = position; }
    [[nodiscard]] const std::string& bytes() const { return m_bytes; }

private:
    std::string m_bytes;
    std::uint64_t m_position = 0;
};

/// Attributes that describe the input's storage rather than the picture.
bool isStorageAttribute(const std::string& name)
{
    static const std::set<std::string> names{
        "channels", "compression", "dataWindow", "displayWindow",    "lineOrder",
        "tiles",    "type",        "name",       "chunkCount",       "version",
        "preview",  "view",        "multiView",  "pixelAspectRatio", "maxSamplesPerPixel"};
    return names.contains(name) || name.starts_with("cryptomatte/");
}

Imf::Header outputHeader(const ExrOutput& output)
{
    const int width = output.image->width();
    const int height = output.image->height();
    Imf::Header header(width, height);
    if (output.keep) {
        // The picture covers the display window, at the place the input's header gave it.
        const Imath::Box2i window = output.keep->displayWindow();
        if (window.max.x - window.min.x + 1 == width && window.max.y - window.min.y + 1 == height) {
            header.displayWindow() = window;
            header.dataWindow() = window;
        }
        header.pixelAspectRatio() = output.keep->pixelAspectRatio();
        for (auto it = output.keep->begin(); it != output.keep->end(); ++it)
            if (!isStorageAttribute(it.name())) header.insert(it.name(), it.attribute());
    }
    header.compression() = Imf::ZIP_COMPRESSION;
    Imf::addFocus(header, static_cast<float>(output.focusMetres));
    Imf::addAperture(header, static_cast<float>(output.fStop));
    return header;
}

constexpr const char* kRgbaNames[RgbaImage::channels] = {"R", "G", "B", "A"};

std::string encode(const ExrOutput& output)
{
    const RgbaImage& image = *output.image;
    Imf::Header header = outputHeader(output);
    const Imath::Box2i window = header.dataWindow();
    const bool asHalf = output.type == SampleType::half;
    std::array<Plane<half>, RgbaImage::channels> halves;
    Imf::FrameBuffer buffer;
    for (int c = 0; c < RgbaImage::channels; ++c) {
        header.channels().insert(kRgbaNames[c], Imf::Channel(asHalf ? Imf::HALF : Imf::FLOAT));
        const Plane<float>& plane = image.plane(c);
        if (asHalf) {
            auto& halfPlane = halves[static_cast<std::size_t>(c)];
            halfPlane = Plane<half>(image.width(), image.height());
            std::transform(plane.pixels().begin(), plane.pixels().end(), halfPlane.pixels().begin(),
                           [](float v) { return half(std::clamp(v, -float(HALF_MAX), float(HALF_MAX))); });
            buffer.insert(kRgbaNames[c], Imf::Slice::Make(Imf::HALF, halfPlane.row(0), window));
        } else {
            buffer.insert(kRgbaNames[c], Imf::Slice::Make(Imf::FLOAT, plane.row(0), window));
        }
    }
    MemoryStream stream;
    {
        Imf::OutputFile file(stream, header);
        file.setFrameBuffer(buffer);
        file.writePixels(image.height());
    }
    return stream.bytes();
}

} // namespace

std::string_view name(SampleType type) noexcept
{
    return type == SampleType::half ? "half" : type == SampleType::float32 ? "float" : "uint";
}

const ChannelInfo* PartInfo::find(std::string_view channel) const noexcept
{
    const auto it = std::find_if(channels.begin(), channels.end(),
                                 [&](const ChannelInfo& info) { return info.name == channel; });
    return it == channels.end() ? nullptr : &*it;
}

ExrInfo inspectExr(const fs::path& file)
{
    requireReadable(file);
    ExrInfo info;
    info.file = file;
    try {
        const Imf::MultiPartInputFile input(file.c_str());
        for (int i = 0; i < input.parts(); ++i)
            info.parts.push_back(describe(input.header(i)));
    } catch (const std::exception& cause) {
        throwUnreadable(file, cause);
    }
    return info;
}

ExrChannels readExrChannels(const fs::path& file, int part, const std::vector<std::string>& channels,
                            float outside)
{
    requireReadable(file);
    try {
        Imf::MultiPartInputFile input(file.c_str());
        if (part < 0 || part >= input.parts())
            throw Error(fmt::format("{}: has no part {}; it has {}.", file.string(), part, input.parts()));
        const Imf::Header& header = input.header(part);
        const PartInfo info = describe(header);
        checkSizes(file, info);
        if (info.deep)
            throw Error(fmt::format("{}: part \"{}\" holds deep samples, which this version does not read. "
                                    "Render a flat EXR.",
                                    file.string(), info.name));
        if (!input.partComplete(part)) throwIncomplete(file);
        ExrChannels result;
        result.header = std::make_shared<Imf::Header>(header);
        Imf::FrameBuffer buffer;
        for (const std::string& channel : channels) {
            if (!info.find(channel))
                throw Error(fmt::format("{}: has no channel \"{}\".", file.string(), channel));
            const Imf::Channel& stored = header.channels()[channel.c_str()];
            if (stored.xSampling != 1 || stored.ySampling != 1)
                throw Error(
                    fmt::format("{}: channel \"{}\" is stored at a lower resolution than the picture. "
                                "Render it at full resolution.",
                                file.string(), channel));
            result.planes.emplace_back(info.dataWindow.width(), info.dataWindow.height());
        }
        for (std::size_t i = 0; i < channels.size(); ++i)
            buffer.insert(channels[i],
                          Imf::Slice::Make(Imf::FLOAT, result.planes[i].row(0), header.dataWindow()));
        Imf::InputPart reader(input, part);
        reader.setFrameBuffer(buffer);
        try {
            reader.readPixels(info.dataWindow.minY, info.dataWindow.maxY);
        } catch (const std::exception& cause) {
            throwIncomplete(file, cause.what());
        }
        for (Plane<float>& plane : result.planes)
            plane = placed(std::move(plane), info, outside);
        return result;
    } catch (const Error&) {
        throw;
    } catch (const std::exception& cause) {
        throwUnreadable(file, cause);
    }
}

void writeExr(const fs::path& file, const ExrOutput& output)
{
    std::string bytes;
    try {
        bytes = encode(output);
    } catch (const std::exception& cause) {
        throw Error(fmt::format("{}: the picture could not be encoded.", file.string()), cause.what());
    }
    writeFileAtomically(file, bytes);
}

} // namespace retinex::passes
