#include "core/passes/exr/exr_file.h"

#include "core/passes/exr/exr_deep.h"
#include "core/system/error.h"
#include "core/system/readable_file.h"
#include "core/system/say.h"

#include <ImfChannelList.h>
#include <ImfCompression.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfInputPart.h>
#include <ImfMultiPartInputFile.h>
#include <ImfMultiView.h>
#include <ImfPartType.h>
#include <ImfStandardAttributes.h>
#include <ImfThreading.h>
#include <ImfTileDescription.h>
#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <mutex>
#include <new>
#include <system_error>
#include <thread>

namespace retinex::passes {

namespace {

namespace fs = std::filesystem;

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
    // In the order of Imf::Compression.
    static constexpr std::array<const char*, 10> names{"none",  "rle", "zips", "zip",  "piz",
                                                       "pxr24", "b44", "b44a", "dwaa", "dwab"};
    const auto index = static_cast<std::size_t>(compression);
    return index < names.size() ? names[index] : "unknown";
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
    part.mipMapped = header.hasTileDescription() && header.tileDescription().mode != Imf::ONE_LEVEL;
    part.deep = header.hasType() && Imf::isDeepData(header.type());
    if (Imf::hasChromaticities(header)) {
        const Imf::Chromaticities& c = Imf::chromaticities(header);
        part.primaries = colour::Primaries{c.red.x,  c.red.y,  c.green.x, c.green.y,
                                           c.blue.x, c.blue.y, c.white.x, c.white.y};
    }
    if (Imf::hasMultiView(header)) part.eyes = Imf::multiView(header);
    for (auto it = header.channels().begin(); it != header.channels().end(); ++it) {
        // "Storing Multi-View Images in OpenEXR Files": a name without a layer belongs to the first view.
        std::string eye = !part.eyes.empty() ? Imf::viewFromChannelName(it.name(), part.eyes)
                          : header.hasView() ? header.view()
                                             : std::string();
        part.channels.push_back({it.name(), toSampleType(it.channel().type), std::move(eye)});
    }
    return part;
}

/// What the machine lacks says nothing of the file.
void requireMachine(const fs::path& file, const std::exception& cause)
{
    if (dynamic_cast<const std::bad_alloc*>(&cause)) throw std::bad_alloc();
    if (const auto* lacking = dynamic_cast<const std::system_error*>(&cause))
        throw std::system_error(*lacking);
    requireReadable(file); // no file could be opened, or not any more
}

[[noreturn]] void throwUnreadable(const fs::path& file, const std::exception& cause)
{
    requireMachine(file, cause);
    throw Error(say("{}: this is not a readable EXR file; it may be damaged or cut short. "
                    "Render or copy it again.",
                    file.string()),
                cause.what());
}

/// The header is sound but what follows is not.
[[noreturn]] void throwIncomplete(const fs::path& file, const std::string& cause = {})
{
    throw Error(say("{}: the picture cannot be read to its end: rows are missing or damaged. The render may "
                    "still be writing it, or a copy broke off: wait, or copy it again.",
                    file.string()),
                cause);
}

void requireSize(const fs::path& file, const PixelBox& box, const char* what)
{
    const long long width = static_cast<long long>(box.maxX) - box.minX + 1;
    const long long height = static_cast<long long>(box.maxY) - box.minY + 1;
    if (width <= 0 || height <= 0 || width > kMostPixels || height > kMostPixels ||
        width * height > kMostPixels)
        throw Error(say("{}: the header gives {} of {} x {} px, which cannot be right or is "
                        "more than this program takes. Render it again.",
                        file.string(), what, width, height));
}

/// Copies what `data` (placed at `from`) has inside `to`.
Plane<float> placed(const Plane<float>& data, const PixelBox& from, const PixelBox& to, float outside)
{
    Plane<float> plane(to.width(), to.height(), outside);
    const int x0 = std::max(to.minX, from.minX);
    const int x1 = std::min(to.maxX, from.maxX);
    for (int y = std::max(to.minY, from.minY); y <= std::min(to.maxY, from.maxY); ++y)
        if (x0 <= x1)
            std::copy_n(data.row(y - from.minY) + (x0 - from.minX), x1 - x0 + 1,
                        plane.row(y - to.minY) + (x0 - to.minX));
    return plane;
}

/// The library refuses larger claims while it reads the header, and unpacks on all cores.
void prepareLibrary()
{
    static std::once_flag once;
    std::call_once(once, [] {
        Imf::Header::setMaxImageSize(1 << 28, 1 << 28);
        Imf::Header::setMaxTileSize(1 << 14, 1 << 14);
        Imf::setGlobalThreadCount(static_cast<int>(std::max(1U, std::thread::hardware_concurrency())));
    });
}

/// As the library counts them: 0 unpacks one block after the other.
int threadsOf(const Run& run)
{
    if (run.threads == 0) return Imf::globalThreadCount();
    return run.threads == 1 ? 0 : std::min(run.threads, Imf::globalThreadCount());
}

void requireChannels(const fs::path& file, const PartInfo& info, const Imf::Header& header,
                     const std::vector<std::string>& channels)
{
    if (info.channels.size() > kMostChannels)
        throw Error(say("{}: has {} channels; this program takes {}. Split it into several files.",
                        file.string(), info.channels.size(), kMostChannels));
    for (const std::string& channel : channels) {
        if (!info.find(channel)) throw Error(say("{}: has no channel \"{}\".", file.string(), channel));
        const Imf::Channel& stored = header.channels()[channel.c_str()];
        if (stored.xSampling != 1 || stored.ySampling != 1)
            throw Error(say("{}: channel \"{}\" is stored at a lower resolution than the picture. "
                            "Render it at full resolution.",
                            file.string(), channel));
    }
}

/// Most that a kind of compression can pack: 1032 to one for zip (zlib, "Maximum Compression Factor"), 64 to
/// one for run lengths; b44 has a fixed rate for half channels and keeps others as they are. Wavelets have no
/// such bound.
double mostPacked(const PartInfo& info)
{
    if (info.compression == "none") return 1.0;
    if (info.compression == "rle") return 64.0;
    if (info.compression == "piz" || info.compression.starts_with("dwa")) return 1e6;
    return 1100.0;
}

/// Bytes of all channels of a part.
double pictureBytes(const Imf::Header& header, const PartInfo& info)
{
    double each = 0.0;
    for (auto it = header.channels().begin(); it != header.channels().end(); ++it)
        each +=
            (it.channel().type == Imf::HALF ? 2.0 : 4.0) / it.channel().xSampling / it.channel().ySampling;
    return each * info.dataWindow.width() * info.dataWindow.height();
}

/// Rows of a flat part, in the data window.
void readFlat(const fs::path& file, Imf::MultiPartInputFile& input, int part,
              const std::vector<std::string>& channels, const Run& run, ChannelPlanes& result)
{
    constexpr int kRows = 512; // between two looks at the stop; more than any block of compressed rows
    const Imath::Box2i& window = input.header(part).dataWindow();
    Imf::FrameBuffer buffer;
    for (const std::string& channel : channels) {
        result.planes.emplace_back(result.dataWindow.width(), result.dataWindow.height());
        buffer.insert(channel, Imf::Slice::Make(Imf::FLOAT, result.planes.back().row(0), window));
    }
    Imf::InputPart reader(input, part);
    reader.setFrameBuffer(buffer);
    try {
        for (int y = window.min.y; y <= window.max.y; y += kRows) {
            run.throwIfStopped();
            reader.readPixels(y, std::min(y + kRows - 1, window.max.y));
        }
    } catch (const std::exception& cause) {
        requireMachine(file, cause);
        throwIncomplete(file, cause.what());
    }
}

} // namespace

void checkSizes(const fs::path& file, const PartInfo& part)
{
    requireSize(file, part.displayWindow, "a picture");
    requireSize(file, part.dataWindow, "a data window");
    requireSize(file, united(part.displayWindow, part.dataWindow), "windows that together span a picture");
}

void checkPlausible(const fs::path& file, double bytes, double ratio)
{
    std::error_code code;
    const auto size = static_cast<double>(fs::file_size(file, code));
    if (!code && bytes > 4096.0 + ratio * size)
        throw Error(
            say("{}: the header gives a picture that would take {:.0f} MB, but the file has {:.1f} kB: "
                "it is damaged or cut short. Render or copy it again.",
                file.string(), bytes / 1e6, size / 1e3));
}

void layOut(ChannelPlanes& channels, const PartInfo& part, const ReadOptions& options)
{
    channels.window = options.extent == Extent::everything ? united(part.displayWindow, part.dataWindow)
                                                           : part.displayWindow;
    if (channels.window == part.dataWindow) return;
    for (Plane<float>& plane : channels.planes)
        plane = placed(plane, part.dataWindow, channels.window, options.outside);
}

FileInfo inspectExr(const fs::path& file)
{
    requireReadable(file);
    prepareLibrary();
    FileInfo info;
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

HeaderPtr readExrHeader(const fs::path& file, int part)
{
    requireReadable(file);
    prepareLibrary();
    try {
        const Imf::MultiPartInputFile input(file.c_str());
        if (part >= 0 && part < input.parts()) return std::make_shared<Imf::Header>(input.header(part));
    } catch (const std::exception& cause) {
        throwUnreadable(file, cause);
    }
    throw Error(say("{}: has no part {}.", file.string(), part));
}

ChannelPlanes readExrChannels(const fs::path& file, int part, const std::vector<std::string>& channels,
                              const ReadOptions& options)
{
    requireReadable(file);
    prepareLibrary();
    try {
        Imf::MultiPartInputFile input(file.c_str(), threadsOf(options.run));
        if (part < 0 || part >= input.parts())
            throw Error(say("{}: has no part {}; it has {}.", file.string(), part, input.parts()));
        const Imf::Header& header = input.header(part);
        const PartInfo info = describe(header);
        checkSizes(file, info);
        requireChannels(file, info, header, channels);
        if (!info.deep) checkPlausible(file, pictureBytes(header, info), mostPacked(info));
        if (!input.partComplete(part)) throwIncomplete(file);
        ChannelPlanes result;
        result.header = std::make_shared<Imf::Header>(header);
        result.dataWindow = info.dataWindow;
        if (info.deep) {
            auto samples = std::make_shared<DeepSamples>(readDeepSamples(file, input, part, info, channels));
            result.planes = flattened(*samples, channels);
            result.deep = std::move(samples);
        } else
            readFlat(file, input, part, channels, options.run, result);
        layOut(result, info, options);
        return result;
    } catch (const Error&) {
        throw;
    } catch (const std::exception& cause) {
        throwUnreadable(file, cause);
    }
}

} // namespace retinex::passes
