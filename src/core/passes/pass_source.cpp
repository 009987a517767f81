#include "core/passes/pass_source.h"

#include "core/base/cut.h"
#include "core/base/error.h"
#include "core/base/reduced.h"
#include "core/base/scene_key.h"
#include "core/colour/input_space.h"
#include "core/passes/exr/exr_deep.h"
#include "core/passes/file_state.h"
#include "core/passes/image_file.h"
#include "core/passes/luminance.h"
#include "core/passes/mattes/matte_objects.h"
#include "core/passes/mend_colour.h"
#include "core/passes/reduction.h"

#include <ImfChannelList.h>
#include <ImfHeader.h>
#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <limits>

namespace retinex::passes {

namespace {

constexpr float kNoDepth = std::numeric_limits<float>::quiet_NaN();
constexpr std::array<std::string_view, 3> kMissingNames{"stop", "hold", "black"};

std::filesystem::path firstFile(const Sequence& files)
{
    return files.file(files.isStill() ? 1 : files.frames().front());
}

/// The frame that was named says what a sequence is like; of a pattern the first one does.
std::filesystem::path spokenFor(const Sequence& files, const std::filesystem::path& named)
{
    std::error_code code;
    return std::filesystem::is_regular_file(named, code) ? named : firstFile(files);
}

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
Plane<float> cut(const Plane<float>& plane, const PixelBox& from, const PixelBox& to)
{
    if (from == to) return plane;
    Plane<float> result(to.width(), to.height(), kNoDepth);
    for (int y = 0; y < to.height(); ++y)
        for (int x = 0; x < to.width(); ++x)
            if (plane.contains(x + to.minX - from.minX, y + to.minY - from.minY))
                result.at(x, y) = plane.at(x + to.minX - from.minX, y + to.minY - from.minY);
    return result;
}

RgbaImage cut(const RgbaImage& image, const PixelBox& from, const PixelBox& to)
{
    RgbaImage result;
    for (int c = 0; c < RgbaImage::channels; ++c)
        result.plane(c) = cut(image.plane(c), from, to);
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

depth::ViewGeometry geometryOf(const RawPasses& raw, const depth::ReadingSettings& reading, bool overscan)
{
    depth::ViewGeometry view{static_cast<double>(raw.colour.width()),
                             static_cast<double>(raw.colour.height())};
    if (overscan) {
        view.left = raw.overscan->left;
        view.top = raw.overscan->top;
    }
    view.pixelAspect = raw.pixelAspect;
    if (reading.fieldOfViewDeg > 0.0) view.fieldOfViewDeg = reading.fieldOfViewDeg;
    return view;
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

/// The same pixels within a larger picture; there is nothing around them.
ObjectShares placed(const ObjectShares& objects, int width, int height, int left, int top)
{
    const Plane<int> numbers = pixelNumbers(objects);
    Plane<int> larger(width, height, kNoPixel);
    for (int y = 0; y < numbers.height(); ++y)
        std::copy_n(numbers.row(y), numbers.width(), larger.row(top + y) + left);
    return madeOf(objects, larger, {});
}

/// What is kept that `isIt` says yes to, now the newest; null where there is none.
template <class Kept, class IsIt>
const Kept* touch(std::list<Kept>& newestFirst, IsIt isIt)
{
    const auto it = std::find_if(newestFirst.begin(), newestFirst.end(), isIt);
    if (it == newestFirst.end()) return nullptr;
    newestFirst.splice(newestFirst.begin(), newestFirst, it);
    return &newestFirst.front();
}

/// Stored depth becomes distance, and samples go front to back.
std::shared_ptr<const DeepPicture> withDistances(const DeepPicture& stored,
                                                 const depth::ReadingSettings& reading,
                                                 const depth::ViewGeometry& view)
{
    auto deep = std::make_shared<DeepPicture>(stored);
    const depth::SampleReading distanceOf(reading, view);
    for (int y = 0; y < deep->height; ++y) {
        for (int x = 0; x < deep->width; ++x) {
            const auto first = deep->samples.begin() + static_cast<std::ptrdiff_t>(deep->firstOf(x, y));
            const auto end = deep->samples.begin() + static_cast<std::ptrdiff_t>(deep->endOf(x, y));
            for (auto sample = first; sample != end; ++sample) {
                const bool isVolume = sample->isVolume();
                const float from = distanceOf(sample->depth, x, y);
                const float to = isVolume ? distanceOf(sample->back, x, y) : from;
                sample->depth = std::min(from, to);
                sample->back = std::max(from, to);
            }
            std::stable_sort(first, end, [](const auto& a, const auto& b) { return a.depth < b.depth; });
        }
    }
    return deep;
}

} // namespace

std::string_view name(MissingFrames missing) noexcept
{
    return kMissingNames[static_cast<std::size_t>(missing)];
}

std::optional<MissingFrames> missingFromName(std::string_view text) noexcept
{
    const auto it = std::find(kMissingNames.begin(), kMissingNames.end(), text);
    if (it == kMissingNames.end()) return std::nullopt;
    return static_cast<MissingFrames>(it - kMissingNames.begin());
}

PassSource::PassSource(const PassChoice& colour, const PassChoice& depth, PassOptions options,
                       std::size_t keptFrames)
    : m_colourFiles(Sequence::find(colour.file)),
      m_depthFiles(depth.file.empty() ? m_colourFiles : Sequence::find(depth.file)),
      m_colourInfo(inspectFile(spokenFor(m_colourFiles, colour.file))), m_options(std::move(options)),
      m_keptFrames(keptFrames)
{
    const bool ownFile = firstFile(m_depthFiles) != firstFile(m_colourFiles);
    m_depthInfo = ownFile ? inspectFile(spokenFor(m_depthFiles, depth.file)) : m_colourInfo;
    m_colourLayer = chooseColour(m_colourInfo, colour.name);
    m_depthChannel = chooseDepth(m_depthInfo, depth.name, ownFile);
    m_window = m_colourInfo.part(m_colourLayer.part).displayWindow;
    m_depthWindow = m_depthInfo.part(m_depthChannel.part).displayWindow;
    checkSizes(m_colourInfo.file, m_colourInfo.part(m_colourLayer.part));
    checkSizes(m_depthInfo.file, m_depthInfo.part(m_depthChannel.part));
    m_inputSpace = m_options.inputSpace.empty() ? colour::defaultInputSpace(isInteger(m_colourLayer.type))
                                                : m_options.inputSpace;
    m_isLinear = colour::isSceneLinear(m_inputSpace);
    if (!m_options.alpha.file.empty()) {
        m_alphaFiles = Sequence::find(m_options.alpha.file);
        m_alphaChannel = chooseDepth(inspectFile(firstFile(*m_alphaFiles)), m_options.alpha.name, true);
    }
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

std::string PassSource::sizeNotice() const
{
    if (m_depthWindow.width() == m_window.width() && m_depthWindow.height() == m_window.height()) return {};
    return fmt::format(
        "{} is {} x {} px and {} is {} x {} px: depth is {}. Edges will be coarse; render the depth "
        "pass at the size of the colour pass.",
        m_depthFiles.pattern().filename().string(), m_depthWindow.width(), m_depthWindow.height(),
        m_colourFiles.pattern().filename().string(), m_window.width(), m_window.height(),
        m_options.sizeFit == SizeFit::scale ? "scaled, each value taken as it is"
                                            : "laid pixel for pixel around the middle");
}

std::shared_ptr<const PassSource> PassSource::standIn(const PassChoice& colour, const PassChoice& depth,
                                                      PassOptions options, int firstFrame, int lastFrame,
                                                      const std::string& reason)
{
    std::shared_ptr<PassSource> source(new PassSource(reason));
    source->m_colourFiles = Sequence::absent(colour.file);
    source->m_depthFiles = Sequence::absent(depth.file.empty() ? colour.file : depth.file);
    source->m_colourInfo.parts.emplace_back();
    source->m_depthInfo.parts.emplace_back();
    source->m_options = std::move(options);
    source->m_window = source->m_depthWindow = PixelBox::at(0, 0, 1920, 1080); // a size to lay things out by
    source->m_firstFrame = firstFrame;
    source->m_lastFrame = lastFrame;
    return source;
}

void PassSource::requirePresent() const
{
    if (!m_absentBecause.empty()) throw Error(m_absentBecause);
}

std::vector<int> PassSource::missingFrames() const
{
    std::vector<int> missing;
    for (int frame = m_firstFrame; frame <= m_lastFrame; ++frame)
        if (!m_colourFiles.has(frame) || !m_depthFiles.has(frame)) missing.push_back(frame);
    return missing;
}

void PassSource::requireFrames(const std::vector<int>& frames) const
{
    requirePresent();
    if (m_options.missing != MissingFrames::stop) return;
    for (const Sequence* files : {&m_colourFiles, &m_depthFiles}) {
        std::vector<int> missing;
        std::copy_if(frames.begin(), frames.end(), std::back_inserter(missing),
                     [&](int frame) { return !files->has(frame); });
        if (!missing.empty())
            throw Error(fmt::format(
                "{}: frames {} are missing; the sequence has {}. Render them, choose frames "
                "that are there, or have missing frames held or black.",
                files->pattern().string(), describeFrames(missing), describeFrames(files->frames())));
    }
}

FramePassesPtr PassSource::load(int frame, const depth::ReadingSettings& reading) const
{
    {
        const std::lock_guard lock(m_mutex);
        if (const Kept* found = touch(
                m_kept, [&](const Kept& kept) { return kept.frame == frame && kept.reading == reading; }))
            return found->passes;
    }
    FramePassesPtr passes = withReading(loadRaw(frame), reading);
    const std::lock_guard lock(m_mutex);
    m_kept.push_front({frame, reading, passes});
    if (m_kept.size() > m_keptFrames) m_kept.pop_back();
    return passes;
}

FramePassesPtr PassSource::loadReduced(int frame, const depth::ReadingSettings& reading, int divisor) const
{
    const FramePassesPtr full = load(frame, reading);
    {
        const std::lock_guard lock(m_mutex);
        if (const Reduced* found = touch(
                m_reduced, [&](const Reduced& kept) { return kept.full == full && kept.divisor == divisor; }))
            return found->small;
    }
    const int step = reductionStep(full->colour().width(), full->colour().height());
    // Whenever one is made of it, that of `step` becomes one of the newest: it stays.
    FramePassesPtr small = divisor > step && divisor % step == 0 && step > 1
                               ? reduced(*loadReduced(frame, reading, step), divisor / step)
                               : reduced(*full, divisor);
    const std::lock_guard lock(m_mutex);
    m_reduced.remove_if([&](const Reduced& kept) { return kept.full != full; });
    m_reduced.push_front({full, divisor, small});
    if (m_reduced.size() > kKeptSizes) m_reduced.pop_back();
    return small;
}

RawPassesPtr PassSource::loadRaw(int frame) const
{
    {
        const std::lock_guard lock(m_mutex);
        if (const auto* found = touch(m_raw, [&](const auto& kept) { return kept.first == frame; }))
            return found->second;
    }
    RawPassesPtr raw = read(frame);
    const std::lock_guard lock(m_mutex);
    m_raw.emplace_front(frame, raw);
    if (m_raw.size() > m_keptFrames) m_raw.pop_back();
    return raw;
}

ObjectSharesPtr PassSource::loadObjects(int frame, const std::vector<MatteChoice>& mattes) const
{
    requirePresent();
    if (mattes.empty() || isBlack(frame)) return nullptr;
    {
        const std::lock_guard lock(m_mutex);
        if (const KeptObjects* found = touch(m_objects, [&](const KeptObjects& kept) {
                return kept.frame == frame && kept.mattes == mattes;
            }))
            return found->objects;
    }
    ObjectShares objects;
    try {
        objects = readMatteObjects(mattes, frame, m_options.missing == MissingFrames::hold, width(), height(),
                                   m_options.sizeFit);
    } catch (const Error& error) {
        throw Error(fmt::format("{} Or take the matte out of the list, or use no mattes at edges (Repair).",
                                error.what()));
    }
    if (const auto overscan = loadRaw(frame)->overscan)
        objects = placed(objects, overscan->colour.width(), overscan->colour.height(), overscan->left,
                         overscan->top);
    const std::lock_guard lock(m_mutex);
    m_objects.push_front({frame, mattes, std::make_shared<const ObjectShares>(std::move(objects))});
    if (m_objects.size() > m_keptFrames) m_objects.pop_back();
    return m_objects.front().objects;
}

const std::string& PassSource::filesState() const
{
    std::call_once(m_stateAsked, [this] {
        for (const Sequence* files : {&m_colourFiles, &m_depthFiles, m_alphaFiles ? &*m_alphaFiles : nullptr})
            for (int frame = m_firstFrame; files && frame <= (files->isStill() ? m_firstFrame : m_lastFrame);
                 ++frame)
                m_filesState += fileState(*files, frame);
    });
    return m_filesState;
}

void PassSource::forgetFrames() const
{
    const std::lock_guard lock(m_mutex);
    m_raw.clear();
    m_kept.clear();
    m_reduced.clear();
    m_objects.clear();
}

void PassSource::prefetch(int frame) const noexcept
{
    try {
        (void)loadRaw(frame);
    } catch (...) { // whoever loads the frame is told
    }
}

std::filesystem::path PassSource::fileFor(const Sequence& files, int frame) const
{
    if (m_options.missing == MissingFrames::hold && !files.has(frame))
        return files.file(files.nearestTo(frame));
    return files.requireFile(frame);
}

bool PassSource::isBlack(int frame) const
{
    return m_options.missing == MissingFrames::black &&
           !(m_colourFiles.has(frame) && m_depthFiles.has(frame));
}

RawPassesPtr PassSource::blackFrame() const
{
    auto passes = std::make_shared<RawPasses>();
    passes->colour = RgbaImage(width(), height());
    passes->stored = Plane<float>(width(), height(), kNoDepth);
    passes->hasAlpha = true;
    passes->pixelAspect = m_colourInfo.part(m_colourLayer.part).pixelAspect;
    passes->colourType = m_colourLayer.type;
    // At the place that the other frames have.
    const Imath::Box2i window({m_window.minX, m_window.minY}, {m_window.maxX, m_window.maxY});
    passes->header =
        std::make_shared<const Imf::Header>(window, window, static_cast<float>(passes->pixelAspect));
    return passes;
}

void PassSource::readAlpha(int frame, const PixelBox& window, RgbaImage& colour) const
{
    const auto file = fileFor(*m_alphaFiles, frame);
    const ChannelPlanes read = readNumbers(file, m_alphaChannel, {});
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

RawPassesPtr PassSource::read(int frame) const
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
        readChannels(colourFile, m_colourLayer.part, channels.names(), {0.0F, Extent::everything});
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
    const MendedColour mended = mendColour(colour);
    passes->badColourCount = mended.bad;
    passes->heldColourCount = mended.held;
    const bool unassociated = m_colourInfo.unassociatedAlpha && ownAlpha;
    if (!m_isLinear || unassociated) colour::toSceneLinear(colour, m_inputSpace, unassociated);
    if (m_alphaFiles) readAlpha(frame, read.window, colour);
    if (read.deep && together && m_depthChannel.parts.size() == 1 && !m_alphaFiles) {
        DeepPicture deep = deepPicture(*read.deep,
                                       {{m_colourLayer.red, m_colourLayer.green, m_colourLayer.blue},
                                        ownAlpha ? *m_colourLayer.alpha : std::string(),
                                        m_depthChannel.parts[0]},
                                       read.dataWindow, read.window);
        if (!m_isLinear) samplesToSceneLinear(deep, m_inputSpace);
        passes->deep = std::make_shared<const DeepPicture>(std::move(deep));
        read.deep.reset();
    }

    PixelBox displayWindow = m_window; // a frame may lie elsewhere than the first one
    if (read.header) {
        const auto& window = read.header->displayWindow();
        displayWindow = {window.min.x, window.min.y, window.max.x, window.max.y};
    }
    if (displayWindow.width() != m_window.width() || displayWindow.height() != m_window.height())
        throw Error(
            fmt::format("{}: is {} x {} px, and {} is {} x {} px. Render the frames of a sequence in one "
                        "size.",
                        colourFile.string(), displayWindow.width(), displayWindow.height(),
                        m_colourInfo.file.string(), m_window.width(), m_window.height()));
    Plane<float> stored;
    if (together) {
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
        const ChannelPlanes depth = readNumbers(depthFile, m_depthChannel, {kNoDepth, Extent::everything});
        PixelBox frameWindow = m_depthWindow;
        if (depth.header) {
            const auto& window = depth.header->displayWindow();
            frameWindow = {window.min.x, window.min.y, window.max.x, window.max.y};
        }
        if (frameWindow.width() == displayWindow.width() && frameWindow.height() == displayWindow.height()) {
            const int dx = displayWindow.minX - frameWindow.minX;
            const int dy = displayWindow.minY - frameWindow.minY;
            const PixelBox& w = depth.window;
            stored =
                cut(depth.planes.front(), {w.minX + dx, w.minY + dy, w.maxX + dx, w.maxY + dy}, read.window);
        } else {
            const Plane<float> inside = cut(depth.planes.front(), depth.window, frameWindow);
            stored = cut(
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
    passes->key = sceneKey(colour);
    if (read.window == displayWindow) {
        passes->colour = std::move(colour);
        passes->stored = std::move(stored);
        return passes;
    }
    passes->colour = cut(colour, read.window, displayWindow);
    passes->stored = cut(stored, read.window, displayWindow);
    auto overscan = std::make_shared<Overscan>();
    overscan->left = displayWindow.minX - read.window.minX;
    overscan->top = displayWindow.minY - read.window.minY;
    overscan->colour = std::move(colour);
    overscan->stored = std::move(stored);
    passes->overscan = std::move(overscan);
    return passes;
}

depth::DistanceResult PassSource::loadDistance(int frame, const depth::ReadingSettings& reading) const
{
    requirePresent();
    const bool sameSize =
        m_depthWindow.width() == m_window.width() && m_depthWindow.height() == m_window.height();
    if (isBlack(frame) || reading.gaps.outsideAlpha || !sameSize) {
        const FramePassesPtr passes = withReading(isBlack(frame) ? blackFrame() : read(frame), reading);
        return {passes->distance, passes->gaps, passes->range.gapCount};
    }
    RawPasses raw;
    raw.stored =
        std::move(readNumbers(fileFor(m_depthFiles, frame), m_depthChannel, {kNoDepth, Extent::displayWindow})
                      .planes[0]);
    raw.colour = RgbaImage(raw.stored.width(), raw.stored.height());
    raw.pixelAspect = m_colourInfo.part(m_colourLayer.part).pixelAspect;
    return depth::toDistance(raw.stored, nullptr, reading, geometryOf(raw, reading, false), {1, {}, {}});
}

FramePassesPtr withReading(const RawPassesPtr& raw, const depth::ReadingSettings& reading)
{
    auto passes = std::make_shared<FramePasses>();
    passes->raw = raw;
    if (const auto& overscan = raw->overscan) {
        auto all = depth::toDistance(overscan->stored, &overscan->colour.plane(3), reading,
                                     geometryOf(*raw, reading, true));
        const PixelBox frame =
            PixelBox::at(overscan->left, overscan->top, raw->colour.width(), raw->colour.height());
        passes->distance = retinex::cut(all.distance, frame);
        passes->gaps = retinex::cut(all.gaps, frame);
        passes->overscanDistance = std::move(all.distance);
    } else {
        auto all =
            depth::toDistance(raw->stored, &raw->colour.plane(3), reading, geometryOf(*raw, reading, false));
        passes->distance = std::move(all.distance);
        passes->gaps = std::move(all.gaps);
    }
    passes->range = depth::depthRange(passes->distance, passes->gaps);
    if (raw->deep)
        passes->deep =
            withDistances(*raw->deep, reading, geometryOf(*raw, reading, raw->overscan != nullptr));
    return passes;
}

FramePassesPtr reduced(const FramePasses& full, int divisor)
{
    auto raw = std::make_shared<RawPasses>();
    for (int c = 0; c < RgbaImage::channels; ++c)
        raw->colour.plane(c) = averaged(full.colour().plane(c), divisor);
    raw->stored = picked(full.stored(), divisor);
    raw->badColourCount = full.raw->badColourCount;
    raw->heldColourCount = full.raw->heldColourCount;
    raw->isConverted = full.raw->isConverted;
    raw->key = full.raw->key;
    raw->hasAlpha = full.raw->hasAlpha;
    raw->pixelAspect = full.raw->pixelAspect;
    raw->colourType = full.raw->colourType;
    raw->header = full.raw->header;
    auto small = std::make_shared<FramePasses>();
    small->raw = std::move(raw);
    small->distance = picked(full.distance, divisor);
    small->gaps = picked(full.gaps, divisor);
    small->range = full.range;
    return small;
}

} // namespace retinex::passes
