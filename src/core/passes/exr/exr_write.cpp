#include "core/passes/exr/exr_write.h"

#include "core/system/atomic_file.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <ImfChannelList.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfIO.h>
#include <ImfOutputFile.h>
#include <ImfStandardAttributes.h>
#include <ImfStringAttribute.h>
#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <half.h>
#include <opencv2/core.hpp>
#include <set>

namespace retinex::passes {

namespace {

namespace fs = std::filesystem;

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
    [[nodiscard]] std::string take() { return std::move(m_bytes); }

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
    const Plane<float>& first = output.image ? output.image->plane(0) : *output.channels.front().values;
    const int width = output.frameWidth > 0 ? output.frameWidth : first.width();
    const int height = output.frameHeight > 0 ? output.frameHeight : first.height();
    Imf::Header header(width, height);
    Imath::Box2i frame = header.displayWindow();
    if (output.keep) {
        // The picture covers the display window, at the place the input's header gave it.
        const Imath::Box2i window = output.keep->displayWindow();
        if (window.max.x - window.min.x + 1 == width && window.max.y - window.min.y + 1 == height)
            frame = window;
        header.pixelAspectRatio() = output.keep->pixelAspectRatio();
        for (auto it = output.keep->begin(); it != output.keep->end(); ++it) {
            const std::string name = it.name();
            // What is written below may be of another type in the input.
            const bool isOurs = name == "focus" || name == "aperture" ||
                                (name == "chromaticities" && (output.isConverted || output.chromaticities));
            if (!isStorageAttribute(name) && !isOurs) header.insert(name, it.attribute());
        }
    }
    header.displayWindow() = frame;
    const Imath::V2i corner = frame.min + Imath::V2i(output.left, output.top);
    header.dataWindow() = {corner, corner + Imath::V2i(first.width() - 1, first.height() - 1)};
    header.compression() = output.compression;
    if (output.compression == Imf::DWAA_COMPRESSION)
        header.dwaCompressionLevel() = output.level;
    else
        header.zipCompressionLevel() = std::clamp(static_cast<int>(output.level), 1, 9);
    for (const auto& [name, text] : output.texts)
        header.insert(name, Imf::StringAttribute(text));
    if (std::isfinite(output.focusMetres)) Imf::addFocus(header, static_cast<float>(output.focusMetres));
    if (output.fStop > 0.0 && std::isfinite(output.fStop))
        Imf::addAperture(header, static_cast<float>(output.fStop));
    if (output.chromaticities) {
        const auto& xy = *output.chromaticities;
        Imf::addChromaticities(header, {{xy[0], xy[1]}, {xy[2], xy[3]}, {xy[4], xy[5]}, {xy[6], xy[7]}});
    }
    return header;
}

constexpr const char* kRgbaNames[RgbaImage::channels] = {"R", "G", "B", "A"};

Plane<half> asHalves(const Plane<float>& plane)
{
    Plane<half> halves(plane.width(), plane.height());
    std::vector<float> row(static_cast<std::size_t>(plane.width()));
    const cv::Mat from(1, plane.width(), CV_32F, row.data());
    for (int y = 0; y < plane.height(); ++y) {
        std::transform(plane.row(y), plane.row(y) + plane.width(), row.begin(),
                       [](float v) { return std::clamp(v, -float(HALF_MAX), float(HALF_MAX)); });
        cv::Mat to(1, plane.width(), CV_16F, halves.row(y));
        from.convertTo(to, CV_16F); // ten times as quick as half by half
    }
    return halves;
}

std::string encode(const ExrOutput& output)
{
    Imf::Header header = outputHeader(output);
    const Imath::Box2i window = header.dataWindow();
    const bool asHalf = output.type == SampleType::half;
    std::vector<WrittenChannel> channels = output.channels;
    if (output.image)
        for (int c = 0; c < RgbaImage::channels; ++c)
            channels.push_back({kRgbaNames[c], &output.image->plane(c)});
    std::vector<Plane<half>> halves(channels.size());
    Imf::FrameBuffer buffer;
    for (std::size_t c = 0; c < channels.size(); ++c) {
        const auto& [name, values] = channels[c];
        const Plane<float>& plane = *values;
        header.channels().insert(name, Imf::Channel(asHalf ? Imf::HALF : Imf::FLOAT));
        if (asHalf) {
            halves[c] = asHalves(plane);
            buffer.insert(name, Imf::Slice::Make(Imf::HALF, halves[c].row(0), window));
        } else {
            buffer.insert(name, Imf::Slice::Make(Imf::FLOAT, plane.row(0), window));
        }
    }
    MemoryStream stream;
    {
        Imf::OutputFile file(stream, header);
        file.setFrameBuffer(buffer);
        file.writePixels(window.max.y - window.min.y + 1);
    }
    return stream.take();
}

} // namespace

std::string encodedExr(const fs::path& file, const ExrOutput& output)
{
    try {
        return encode(output);
    } catch (const std::exception& cause) {
        throw Error(say("{}: the picture could not be encoded. Try another name or folder; if it stays, "
                        "please report it.",
                        file.string()),
                    cause.what());
    }
}

void writeExr(const fs::path& file, const ExrOutput& output)
{
    writeFileAtomically(file, encodedExr(file, output));
}

} // namespace retinex::passes
