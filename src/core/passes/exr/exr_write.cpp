#include "core/passes/exr/exr_write.h"

#include "core/base/atomic_file.h"
#include "core/base/error.h"
#include "core/base/say.h"

#include <ImfChannelList.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfIO.h>
#include <ImfOutputFile.h>
#include <ImfStandardAttributes.h>
#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <half.h>
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
        for (auto it = output.keep->begin(); it != output.keep->end(); ++it) {
            const std::string name = it.name();
            // What is written below may be of another type in the input.
            const bool isOurs =
                name == "focus" || name == "aperture" || (output.isConverted && name == "chromaticities");
            if (!isStorageAttribute(name) && !isOurs) header.insert(name, it.attribute());
        }
    }
    header.compression() = Imf::ZIP_COMPRESSION;
    if (std::isfinite(output.focusMetres)) Imf::addFocus(header, static_cast<float>(output.focusMetres));
    if (output.fStop > 0.0 && std::isfinite(output.fStop))
        Imf::addAperture(header, static_cast<float>(output.fStop));
    if (output.isConverted && output.chromaticities) {
        const auto& xy = *output.chromaticities;
        Imf::addChromaticities(header, {{xy[0], xy[1]}, {xy[2], xy[3]}, {xy[4], xy[5]}, {xy[6], xy[7]}});
    }
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

void writeExr(const fs::path& file, const ExrOutput& output)
{
    std::string bytes;
    try {
        bytes = encode(output);
    } catch (const std::exception& cause) {
        throw Error(say("{}: the picture could not be encoded. Try another name or folder; if it stays, "
                        "please report it.",
                        file.string()),
                    cause.what());
    }
    writeFileAtomically(file, bytes);
}

} // namespace retinex::passes
