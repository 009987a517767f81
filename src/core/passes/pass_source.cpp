#include "core/passes/pass_source.h"

#include "core/base/error.h"

#include <ImfHeader.h>
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace retinex::passes {

namespace {

std::filesystem::path firstFile(const Sequence& files)
{
    return files.file(files.isStill() ? 1 : files.frames().front());
}

bool has(const Sequence& files, int frame)
{
    return files.isStill() || std::binary_search(files.frames().begin(), files.frames().end(), frame);
}

/// Sets non-finite pixels to 0 in all channels; returns how many there were.
std::size_t removeNonFinite(RgbaImage& image)
{
    std::size_t count = 0;
    for (std::size_t i = 0; i < image.plane(0).size(); ++i) {
        bool finite = true;
        for (int c = 0; c < RgbaImage::channels; ++c)
            finite = finite && std::isfinite(image.plane(c).pixels()[i]);
        if (finite) continue;
        ++count;
        for (int c = 0; c < RgbaImage::channels; ++c)
            image.plane(c).pixels()[i] = 0.0F;
    }
    return count;
}

RgbaImage toImage(std::vector<Plane<float>>& planes)
{
    RgbaImage image(planes[0].width(), planes[0].height());
    for (std::size_t c = 0; c < 3; ++c)
        image.plane(static_cast<int>(c)) = std::move(planes[c]);
    if (planes.size() > 3)
        image.plane(3) = std::move(planes[3]);
    else
        std::fill(image.plane(3).pixels().begin(), image.plane(3).pixels().end(), 1.0F);
    return image;
}

Plane<float> picked(const Plane<float>& full, int divisor)
{
    const int width = (full.width() + divisor - 1) / divisor;
    const int height = (full.height() + divisor - 1) / divisor;
    Plane<float> small(width, height);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x)
            small.at(x, y) = full.at(std::min(x * divisor + divisor / 2, full.width() - 1),
                                     std::min(y * divisor + divisor / 2, full.height() - 1));
    return small;
}

Plane<float> averaged(const Plane<float>& full, int divisor)
{
    Plane<float> small((full.width() + divisor - 1) / divisor, (full.height() + divisor - 1) / divisor);
    for (int y = 0; y < small.height(); ++y) {
        const int y1 = std::min((y + 1) * divisor, full.height());
        for (int x = 0; x < small.width(); ++x) {
            const int x1 = std::min((x + 1) * divisor, full.width());
            float sum = 0.0F;
            for (int sy = y * divisor; sy < y1; ++sy)
                for (int sx = x * divisor; sx < x1; ++sx)
                    sum += full.at(sx, sy);
            small.at(x, y) = sum / static_cast<float>((y1 - y * divisor) * (x1 - x * divisor));
        }
    }
    return small;
}

} // namespace

PassSource::PassSource(const PassChoice& colour, const PassChoice& depth)
    : m_colourFiles(Sequence::find(colour.file)),
      m_depthFiles(depth.file.empty() ? m_colourFiles : Sequence::find(depth.file))
{
    const ExrInfo colourInfo = inspectExr(firstFile(m_colourFiles));
    const ExrInfo depthInfo = inspectExr(firstFile(m_depthFiles));
    m_colourLayer = chooseColour(colourInfo, colour.name);
    m_depthChannel = chooseDepth(depthInfo, depth.name);
    m_window = colourInfo.parts[static_cast<std::size_t>(m_colourLayer.part)].displayWindow;
    if (!m_colourFiles.isStill() || !m_depthFiles.isStill()) {
        const auto& a = m_colourFiles.isStill() ? m_depthFiles.frames() : m_colourFiles.frames();
        const auto& b = m_depthFiles.isStill() ? a : m_depthFiles.frames();
        m_firstFrame = std::max(a.front(), b.front());
        m_lastFrame = std::min(a.back(), b.back());
        if (m_firstFrame > m_lastFrame)
            throw Error(
                fmt::format("{} has frames {} and {} has frames {}: none in common. Choose passes of the "
                            "same range.",
                            m_colourFiles.pattern().string(), describeFrames(m_colourFiles.frames()),
                            m_depthFiles.pattern().string(), describeFrames(m_depthFiles.frames())));
    }
}

std::vector<int> PassSource::missingFrames() const
{
    std::vector<int> missing;
    for (int frame = m_firstFrame; frame <= m_lastFrame; ++frame)
        if (!has(m_colourFiles, frame) || !has(m_depthFiles, frame)) missing.push_back(frame);
    return missing;
}

FramePassesPtr PassSource::load(int frame) const
{
    {
        const std::lock_guard lock(m_mutex);
        const auto it =
            std::find_if(m_kept.begin(), m_kept.end(), [&](const auto& k) { return k.first == frame; });
        if (it != m_kept.end()) {
            m_kept.splice(m_kept.begin(), m_kept, it);
            return m_kept.front().second;
        }
    }
    FramePassesPtr passes = read(frame);
    const std::lock_guard lock(m_mutex);
    m_kept.emplace_front(frame, passes);
    if (m_kept.size() > kKeptFrames) m_kept.pop_back();
    return passes;
}

FramePassesPtr PassSource::read(int frame) const
{
    const auto colourFile = m_colourFiles.requireFile(frame);
    const auto depthFile = m_depthFiles.requireFile(frame);
    std::vector<std::string> channels{m_colourLayer.red, m_colourLayer.green, m_colourLayer.blue};
    if (m_colourLayer.alpha) channels.push_back(*m_colourLayer.alpha);
    const bool together = colourFile == depthFile && m_colourLayer.part == m_depthChannel.part;
    if (together) // one pass over the file
        channels.push_back(m_depthChannel.channel);
    ExrChannels colour = readExrChannels(colourFile, m_colourLayer.part, channels);

    auto passes = std::make_shared<FramePasses>();
    if (together) {
        passes->stored = std::move(colour.planes.back());
        colour.planes.pop_back();
    } else {
        passes->stored =
            std::move(readExrChannels(depthFile, m_depthChannel.part, {m_depthChannel.channel}).planes[0]);
    }
    passes->colour = toImage(colour.planes);
    if (passes->stored.width() != passes->colour.width() ||
        passes->stored.height() != passes->colour.height())
        throw Error(
            fmt::format("{} is {} x {} px but {} is {} x {} px. Render the depth pass at the size of the "
                        "colour pass.",
                        depthFile.string(), passes->stored.width(), passes->stored.height(),
                        colourFile.string(), passes->colour.width(), passes->colour.height()));
    passes->badColourCount = removeNonFinite(passes->colour);
    passes->distance = depth::toDistance(passes->stored, depth::Reading::distanceFromCameraPlane).distance;
    passes->range = depth::depthRange(passes->distance);
    passes->pixelAspect = colour.header->pixelAspectRatio();
    passes->colourType = m_colourLayer.type;
    passes->header = colour.header;
    return passes;
}

Plane<float> PassSource::loadDistance(int frame) const
{
    const auto stored =
        readExrChannels(m_depthFiles.requireFile(frame), m_depthChannel.part, {m_depthChannel.channel});
    return depth::toDistance(stored.planes[0], depth::Reading::distanceFromCameraPlane).distance;
}

FramePassesPtr reduced(const FramePasses& full, int divisor)
{
    auto small = std::make_shared<FramePasses>();
    for (int c = 0; c < RgbaImage::channels; ++c)
        small->colour.plane(c) = averaged(full.colour.plane(c), divisor);
    small->stored = picked(full.stored, divisor);
    small->distance = picked(full.distance, divisor);
    small->range = full.range;
    small->badColourCount = full.badColourCount;
    small->pixelAspect = full.pixelAspect;
    small->colourType = full.colourType;
    small->header = full.header;
    return small;
}

} // namespace retinex::passes
