// The half of PassSource that reads files.
#include "core/colour/input_space.h"
#include "core/image/scene_brightness.h"
#include "core/passes/exr/exr_deep.h"
#include "core/passes/frames/fit_size.h"
#include "core/passes/frames/luminance.h"
#include "core/passes/frames/mend_colour.h"
#include "core/passes/image_file.h"
#include "core/passes/pass_source.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <ImfChannelList.h>
#include <ImfHeader.h>
#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <limits>

namespace retinex::passes {

namespace {

constexpr float kNoDepth = std::numeric_limits<float>::quiet_NaN();

/// Channels to read, each once.
class ChannelList
{
public:
    std::size_t add(const std::string& name)
    {
        const auto it = std::find(m_names.begin(), m_names.end(), name);
        if (it != m_names.end()) return static_cast<std::size_t>(it - m_names.begin());
        m_names.push_back(name);
        return m_names.size() - 1;
    }
    [[nodiscard]] const std::vector<std::string>& names() const noexcept { return m_names; }

private:
    std::vector<std::string> m_names;
};

/// The part of `plane` (which covers `from`) that lies in `to`; NaN beyond it.
Plane<float> cropped(const Plane<float>& plane, const PixelBox& from, const PixelBox& to)
{
    if (from == to) return plane;
    Plane<float> result(to.width(), to.height(), kNoDepth);
    for (int y = 0; y < to.height(); ++y)
        for (int x = 0; x < to.width(); ++x)
            if (plane.contains(x + to.minX - from.minX, y + to.minY - from.minY))
                result.at(x, y) = plane.at(x + to.minX - from.minX, y + to.minY - from.minY);
    return result;
}

/// 1 where the file has values.
Plane<float> opaque(const PixelBox& window, const PixelBox& dataWindow)
{
    Plane<float> alpha(window.width(), window.height());
    for (int y = std::max(window.minY, dataWindow.minY); y <= std::min(window.maxY, dataWindow.maxY); ++y)
        for (int x = std::max(window.minX, dataWindow.minX); x <= std::min(window.maxX, dataWindow.maxX); ++x)
            alpha.at(x - window.minX, y - window.minY) = 1.0F;
    return alpha;
}

/// The colour of all samples as one row.
void samplesToSceneLinear(DeepPicture& deep, const std::string& space)
{
    RgbaImage row(static_cast<int>(deep.samples.size()), 1);
    for (int i = 0; i < row.width(); ++i)
        for (int c = 0; c < RgbaImage::channels; ++c)
            row.plane(c).at(i, 0) =
                deep.samples[static_cast<std::size_t>(i)].colour[static_cast<std::size_t>(c)];
    colour::toSceneLinear(row, space, false);
    for (int i = 0; i < row.width(); ++i)
        for (int c = 0; c < RgbaImage::channels; ++c)
            deep.samples[static_cast<std::size_t>(i)].colour[static_cast<std::size_t>(c)] =
                row.plane(c).at(i, 0);
}

} // namespace

std::filesystem::path PassSource::fileFor(const Sequence& files, int frame) const
{
    if (auto file = fileOf(files, frame)) return *std::move(file);
    return files.requireFile(frame);
}

bool PassSource::isBlack(int frame) const
{
    return m_options.isEmptyFrame() || (m_options.missing == MissingFrames::black &&
                                        !(m_colourFiles.has(frame) && m_depthFiles.has(frame)));
}

RawPassesPtr PassSource::blackFrame() const
{
    auto passes = std::make_shared<RawPasses>();
    passes->allColour = RgbaImage(width(), height());
    passes->allStored = Plane<float>(width(), height(), kNoDepth);
    passes->frame = PixelBox::at(0, 0, width(), height());
    passes->hasAlpha = true;
    passes->pixelAspect = m_colourInfo.part(m_colourLayer.part).pixelAspect;
    passes->colourType = m_colourLayer.type;
    // At the place that the other frames have.
    const Imath::Box2i window({m_window.minX, m_window.minY}, {m_window.maxX, m_window.maxY});
    passes->header =
        std::make_shared<const Imf::Header>(window, window, static_cast<float>(passes->pixelAspect));
    return passes;
}

void PassSource::readAlpha(int frame, const PixelBox& window, RgbaImage& colour, const Run& run) const
{
    const auto file = fileFor(*m_alphaFiles, frame);
    const ChannelPlanes read = readNumbers(file, m_alphaChannel, {0.0F, Extent::displayWindow, run});
    Plane<float> alpha =
        fitted(read.planes.front(), m_window.width(), m_window.height(), m_options.sizeFit, 0.0F);
    for (float& value : alpha.pixels())
        value = value > 0.0F ? std::min(value, 1.0F) : 0.0F;
    // Beyond the frame, where that file has none, alpha goes on as at its edge.
    Plane<float>& whole = colour.plane(3);
    for (int y = 0; y < whole.height(); ++y)
        for (int x = 0; x < whole.width(); ++x)
            whole.at(x, y) = alpha.at(std::clamp(x + window.minX - m_window.minX, 0, alpha.width() - 1),
                                      std::clamp(y + window.minY - m_window.minY, 0, alpha.height() - 1));
}

RawPassesPtr PassSource::read(int frame, const Run& run) const
{
    requirePresent();
    if (isBlack(frame)) return blackFrame();
    const auto colourFile = fileFor(m_colourFiles, frame);
    const auto depthFile = fileFor(m_depthFiles, frame);
    ChannelList channels;
    std::array<std::size_t, 3> rgb{channels.add(m_colourLayer.red), channels.add(m_colourLayer.green),
                                   channels.add(m_colourLayer.blue)};
    const bool ownAlpha = m_colourLayer.alpha && !m_alphaFiles;
    const std::size_t alpha = ownAlpha ? channels.add(*m_colourLayer.alpha) : 0;
    const bool together = colourFile == depthFile && m_colourLayer.part == m_depthChannel.part;
    std::vector<std::size_t> depthAt;
    if (together) // one pass over the file
        for (const std::string& part : m_depthChannel.parts)
            depthAt.push_back(channels.add(part));
    ChannelPlanes read =
        readChannels(colourFile, m_colourLayer.part, channels.names(), {0.0F, Extent::everything, run});
    // A plane that nothing else needs is taken over, not copied.
    std::vector<int> uses(channels.names().size(), 0);
    for (const std::size_t c : rgb)
        ++uses[c];
    if (ownAlpha) ++uses[alpha];
    for (const std::size_t c : depthAt)
        ++uses[c];
    const auto take = [&](std::size_t c) {
        return uses[c] == 1 ? std::move(read.planes[c]) : read.planes[c];
    };

    auto passes = std::make_shared<RawPasses>();
    RgbaImage colour;
    for (std::size_t c = 0; c < rgb.size(); ++c)
        colour.plane(static_cast<int>(c)) = take(rgb[c]);
    colour.plane(3) = ownAlpha ? take(alpha) : opaque(read.window, read.dataWindow);
    passes->hasAlpha = ownAlpha || m_alphaFiles.has_value();
    run.throwIfStopped();
    const MendedColour mended = mendColour(colour);
    passes->badColourCount = mended.bad;
    passes->heldColourCount = mended.held;
    const bool unassociated = m_colourInfo.unassociatedAlpha && ownAlpha;
    if (!m_isLinear || unassociated) colour::toSceneLinear(colour, m_inputSpace.name, unassociated, run);
    if (m_alphaFiles) readAlpha(frame, read.window, colour, run);
    if (read.deep && together && m_depthChannel.parts.size() == 1 && !m_alphaFiles) {
        DeepPicture deep = deepPicture(*read.deep,
                                       {{m_colourLayer.red, m_colourLayer.green, m_colourLayer.blue},
                                        ownAlpha ? *m_colourLayer.alpha : std::string(),
                                        m_depthChannel.parts[0]},
                                       read.dataWindow, read.window);
        if (!m_isLinear) samplesToSceneLinear(deep, m_inputSpace.name);
        passes->deep = std::make_shared<const DeepPicture>(std::move(deep));
        read.deep.reset();
    }

    PixelBox displayWindow = m_window; // a frame may lie elsewhere than the first one
    if (read.header) {
        const auto& window = read.header->displayWindow();
        displayWindow = {window.min.x, window.min.y, window.max.x, window.max.y};
    }
    if (displayWindow.width() != m_window.width() || displayWindow.height() != m_window.height())
        throw Error(say("{}: is {} x {} px, and {} is {} x {} px. Render the frames of a sequence in one "
                        "size.",
                        colourFile.string(), displayWindow.width(), displayWindow.height(),
                        m_colourInfo.file.string(), m_window.width(), m_window.height()));
    Plane<float> stored;
    if (m_options.handMadeDepth) {
        stored = Plane<float>(read.window.width(), read.window.height(), kNoDepth);
    } else if (together) {
        stored = depthAt.size() == 3
                     ? luminanceOf(read.planes[depthAt[0]], read.planes[depthAt[1]], read.planes[depthAt[2]])
                     : take(depthAt[0]);
        // Outside the data window there is no depth, whatever stands for colour there.
        if (!(read.window == read.dataWindow)) {
            const Plane<float> there = opaque(read.window, read.dataWindow);
            for (std::size_t i = 0; i < stored.size(); ++i)
                if (there.pixels()[i] == 0.0F) stored.pixels()[i] = kNoDepth;
        }
    } else {
        const ChannelPlanes depth =
            readNumbers(depthFile, m_depthChannel, {kNoDepth, Extent::everything, run});
        PixelBox frameWindow = m_depthWindow;
        if (depth.header) {
            const auto& window = depth.header->displayWindow();
            frameWindow = {window.min.x, window.min.y, window.max.x, window.max.y};
        }
        if (frameWindow.width() == displayWindow.width() && frameWindow.height() == displayWindow.height()) {
            const int dx = displayWindow.minX - frameWindow.minX;
            const int dy = displayWindow.minY - frameWindow.minY;
            const PixelBox& w = depth.window;
            stored = cropped(depth.planes.front(), {w.minX + dx, w.minY + dy, w.maxX + dx, w.maxY + dy},
                             read.window);
        } else {
            const Plane<float> inside = cropped(depth.planes.front(), depth.window, frameWindow);
            stored = cropped(
                fitted(inside, displayWindow.width(), displayWindow.height(), m_options.sizeFit, kNoDepth),
                displayWindow, read.window);
        }
    }
    passes->pixelAspect = m_colourInfo.part(m_colourLayer.part).pixelAspect;
    passes->colourType = m_colourLayer.type;
    passes->header = read.header;
    passes->isConverted = !m_isLinear;
    if (read.header) { // each frame is what it is, whatever its neighbours are
        passes->pixelAspect = read.header->pixelAspectRatio();
        if (const auto* channel = read.header->channels().findChannel(m_colourLayer.red))
            passes->colourType = channel->type == Imf::HALF ? SampleType::half : SampleType::float32;
    }
    passes->brightness = sceneBrightness(colour);
    passes->frame = PixelBox::at(displayWindow.minX - read.window.minX, displayWindow.minY - read.window.minY,
                                 width(), height());
    passes->allColour = std::move(colour);
    passes->allStored = std::move(stored);
    return passes;
}

MotionVectors PassSource::loadMotion(int frame, const Run& run) const
{
    requirePresent();
    if (!m_motionFiles) throw Error(say("There are no motion vectors."));
    const auto file = m_motionFiles->file(frame);
    ChannelPlanes read = readChannels(file, m_motionChannels.part,
                                      {m_motionChannels.channels[0], m_motionChannels.channels[1]},
                                      {kNoDepth, Extent::displayWindow, run});
    if (read.planes[0].width() != width() || read.planes[0].height() != height())
        throw Error(say("{}: motion vectors of {} x {} px, and the frame is {} x {} px. Render them at its "
                        "size.",
                        file.string(), read.planes[0].width(), read.planes[0].height(), width(), height()));
    return {std::move(read.planes[0]), std::move(read.planes[1])};
}

depth::DistanceResult PassSource::loadDistance(int frame, const depth::ReadingSettings& reading,
                                               const Run& run) const
{
    requirePresent();
    if (const FramePassesPtr found = kept(frame, reading))
        return {found->distance(), found->gaps(), found->range.gapCount};
    const bool sameSize =
        m_depthWindow.width() == m_window.width() && m_depthWindow.height() == m_window.height();
    if (isBlack(frame) || reading.gaps.outsideAlpha || m_options.handMadeDepth || !sameSize) {
        const FramePassesPtr passes =
            withReading(isBlack(frame) ? blackFrame() : read(frame, run), reading, run);
        return {passes->distance(), passes->gaps(), passes->range.gapCount};
    }
    RawPasses raw;
    raw.allStored = std::move(
        readNumbers(fileFor(m_depthFiles, frame), m_depthChannel, {kNoDepth, Extent::displayWindow, run})
            .planes[0]);
    raw.frame = PixelBox::at(0, 0, width(), height());
    raw.pixelAspect = m_colourInfo.part(m_colourLayer.part).pixelAspect;
    return depth::toDistance(raw.allStored, nullptr, reading, viewOf(raw, reading), run);
}

} // namespace retinex::passes
