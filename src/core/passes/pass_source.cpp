#include "core/passes/pass_source.h"

#include "core/colour/input_space.h"
#include "core/passes/file_state.h"
#include "core/passes/image_file.h"
#include "core/passes/mattes/matte_objects.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <algorithm>
#include <array>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <set>

namespace retinex::passes {

namespace {

std::filesystem::path firstFile(const Sequence& files)
{
    return files.file(files.isStill() ? 1 : files.frames().front());
}

/// The frame that was named says what a sequence is like; of a pattern the first one does.
std::filesystem::path exampleOf(const Sequence& files, const std::filesystem::path& named)
{
    std::error_code code;
    return std::filesystem::is_regular_file(named, code) ? named : firstFile(files);
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

} // namespace

/// What it has read, and made of it.
struct PassSource::Kept
{
    explicit Kept(const Keeping& asked)
        : raw(asked.budget, 0.5 * asked.share, asked.least),
          withDistances(asked.budget, 0.2 * asked.share, asked.least),
          objects(asked.budget, 0.2 * asked.share, asked.least), keeping(asked)
    {
    }
    struct Files
    {
        int frame;
        std::string state; ///< of what it is read from
        bool operator==(const Files&) const = default;
    };
    struct Reading
    {
        Files files;
        depth::ReadingSettings settings;
        bool operator==(const Reading&) const = default;
    };
    struct Mattes
    {
        Files files;
        std::vector<MatteChoice> mattes;
        bool operator==(const Mattes&) const = default;
    };

    KeptValues<Files, RawPasses> raw;
    KeptValues<Reading, FramePasses> withDistances;
    KeptValues<Mattes, ObjectShares> objects;
    Keeping keeping;
};

PassSource::PassSource(std::string absentBecause)
    : m_absentBecause(std::move(absentBecause)), m_kept(std::make_unique<Kept>(Keeping{}))
{
}

PassSource::~PassSource() = default;

PassSource::PassSource(const PassChoice& colour, const PassChoice& depth, PassOptions options,
                       Keeping keeping)
    : m_options(std::move(options)), m_kept(std::make_unique<Kept>(keeping))
{
    if (colour.file.empty() && m_options.isEmptyFrame()) {
        makeEmpty();
        return;
    }
    m_options.emptyWidth = 0;
    findFiles(colour, depth);
}

void PassSource::makeEmpty()
{
    m_colourFiles = m_depthFiles = Sequence::absent({});
    m_options.handMadeDepth = true;
    PartInfo part;
    part.displayWindow = part.dataWindow = PixelBox::at(0, 0, m_options.emptyWidth, m_options.emptyHeight);
    checkSizes("The empty frame", part);
    m_window = m_depthWindow = part.displayWindow;
    m_colourInfo.parts = m_depthInfo.parts = {std::move(part)};
    m_firstFrame = m_options.stillFirst;
    m_lastFrame = std::max(m_options.stillFirst, m_options.stillLast);
}

void PassSource::findFiles(const PassChoice& colour, const PassChoice& depth)
{
    m_colourFiles = Sequence::find(colour.file);
    m_depthFiles = depth.file.empty() ? m_colourFiles : Sequence::findBeside(m_colourFiles, depth.file);
    m_colourInfo = inspectFile(exampleOf(m_colourFiles, colour.file));
    const bool ownFile = firstFile(m_depthFiles) != firstFile(m_colourFiles);
    m_depthInfo = ownFile ? inspectFile(exampleOf(m_depthFiles, depth.file)) : m_colourInfo;
    chooseEye();
    m_colourLayer = chooseColour(m_colourInfo, colour.name);
    if (m_options.handMadeDepth)
        m_depthChannel.part = m_colourLayer.part; // and no channel of it
    else
        m_depthChannel = chooseDepth(m_depthInfo, depth.name, ownFile);
    m_window = m_colourInfo.part(m_colourLayer.part).displayWindow;
    m_depthWindow = m_depthInfo.part(m_depthChannel.part).displayWindow;
    checkSizes(m_colourInfo.file, m_colourInfo.part(m_colourLayer.part));
    checkSizes(m_depthInfo.file, m_depthInfo.part(m_depthChannel.part));
    m_inputSpace = inputSpaceOf(m_colourInfo, m_colourLayer);
    if (!m_options.inputSpace.empty()) m_inputSpace.name = m_options.inputSpace;
    if (const auto primaries = colour::primariesOf(m_inputSpace.name))
        m_nativeSpace = colour::linearSpaceWith(*primaries);
    m_isLinear = colour::isSceneLinear(m_inputSpace.name);
    if (!m_options.alpha.file.empty()) {
        m_alphaFiles = Sequence::findBeside(m_colourFiles, m_options.alpha.file);
        m_alphaChannel =
            chooseDepth(ofEye(inspectFile(firstFile(*m_alphaFiles)), m_eye), m_options.alpha.name, true);
    }
    findMotion();
    findRange();
}

void PassSource::chooseEye()
{
    m_eyes = eyesOf(m_colourInfo);
    if (m_eyes.empty() && m_options.eye.empty()) return;
    m_eye = m_options.eye.empty() ? m_eyes.front() : m_options.eye;
    if (std::ranges::find(m_eyes, m_eye) == m_eyes.end())
        throw Error(m_eyes.empty()
                        ? say("{}: is no stereo render, and the eye \"{}\" is asked for. Leave it out.",
                              m_colourInfo.file.string(), m_eye)
                        : say("{}: has no eye \"{}\"; it has {}. Choose one of these.",
                              m_colourInfo.file.string(), m_eye, fmt::join(m_eyes, ", ")));
    // One eye's colour never goes with the other's depth.
    for (FileInfo* info : {&m_colourInfo, &m_depthInfo})
        *info = ofEye(std::move(*info), m_eye);
}

void PassSource::findMotion()
{
    if (!m_options.motion.file.empty()) {
        m_motionFiles = Sequence::findBeside(m_colourFiles, m_options.motion.file);
        m_motionChannels =
            chooseMotion(ofEye(inspectFile(firstFile(*m_motionFiles)), m_eye), m_options.motion.name);
        return;
    }
    for (const auto& [files, info] :
         {std::pair(&m_colourFiles, &m_colourInfo), {&m_depthFiles, &m_depthInfo}}) {
        const auto found = passes::motionChannels(*info);
        if (files->isStill() || found.empty()) continue;
        m_motionFiles = *files;
        m_motionChannels = found.front();
        return;
    }
}

void PassSource::findRange()
{
    if (isStill()) {
        m_firstFrame = m_options.stillFirst;
        m_lastFrame = std::max(m_options.stillFirst, m_options.stillLast);
        return;
    }
    const auto& a = m_colourFiles.isStill() ? m_depthFiles.frames() : m_colourFiles.frames();
    const auto& b = m_depthFiles.isStill() ? a : m_depthFiles.frames();
    m_firstFrame = std::max(a.front(), b.front());
    m_lastFrame = std::min(a.back(), b.back());
    if (m_firstFrame > m_lastFrame)
        throw Error(say("{} has frames {} and {} has frames {}: none in common. Choose passes of the "
                        "same range.",
                        m_colourFiles.pattern().string(), describeFrames(m_colourFiles.frames()),
                        m_depthFiles.pattern().string(), describeFrames(m_depthFiles.frames())));
}

std::string PassSource::sizeNotice() const
{
    if (m_depthWindow.width() == m_window.width() && m_depthWindow.height() == m_window.height()) return {};
    return say("{} is {} x {} px and {} is {} x {} px: depth is {}. Edges will be coarse; render the depth "
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
    if (m_options.missing != MissingFrames::stop || m_colourFiles.pattern().empty()) return;
    for (const Sequence* files : {&m_colourFiles, &m_depthFiles}) {
        std::vector<int> missing;
        std::copy_if(frames.begin(), frames.end(), std::back_inserter(missing),
                     [&](int frame) { return !files->has(frame); });
        if (!missing.empty())
            throw Error(say("{}: frames {} are missing; the sequence has {}. Render them, choose frames "
                            "that are there, or have missing frames held or black.",
                            files->pattern().string(), describeFrames(missing),
                            describeFrames(files->frames())));
    }
}

FramePassesPtr PassSource::kept(int frame, const depth::ReadingSettings& reading) const
{
    const Kept::Files files{frame, stateOf(frame)};
    auto found = m_kept->withDistances.find({files, depth::essential(reading)});
    if (found) (void)m_kept->raw.find(files); // what it hangs on goes no sooner
    return found;
}

FramePassesPtr PassSource::load(int frame, const depth::ReadingSettings& reading, const Run& run) const
{
    if (auto found = kept(frame, reading)) return found;
    FramePassesPtr passes = withReading(loadRaw(frame, run), reading, run);
    return m_kept->withDistances.put({{frame, stateOf(frame)}, depth::essential(reading)}, passes,
                                     bytesOf(*passes));
}

RawPassesPtr PassSource::loadRaw(int frame, const Run& run) const
{
    if (isStill() && (!m_alphaFiles || m_alphaFiles->isStill())) frame = m_firstFrame; // it is read once
    const Kept::Files files{frame, stateOf(frame)};
    if (auto found = m_kept->raw.find(files)) return found;
    RawPassesPtr raw = read(frame, run);
    return m_kept->raw.put(files, raw, bytesOf(*raw));
}

ObjectSharesPtr PassSource::loadObjects(int frame, const std::vector<MatteChoice>& mattes,
                                        const Run& run) const
{
    requirePresent();
    if (mattes.empty() || isBlack(frame)) return nullptr;
    Kept::Mattes kept{{frame, {}}, mattes};
    std::set<std::filesystem::path> seen;
    for (const MatteChoice& matte : mattes)
        if (const Sequence* files = seen.insert(matte.file).second ? filesBeside(matte.file) : nullptr)
            if (const auto file = fileOf(*files, frame)) kept.files.state += fileState(*file);
    if (auto found = m_kept->objects.find(kept)) return found;
    ObjectShares objects;
    try {
        objects = readMatteObjects(mattes, frame, m_options.missing == MissingFrames::hold, width(), height(),
                                   m_options.sizeFit, m_colourFiles);
    } catch (const Error& error) {
        throw Error(
            say("{} Or take the matte out of the list, or use no mattes at edges (Repair).", error.what()));
    }
    if (const RawPassesPtr raw = loadRaw(frame, run); raw->hasOverscan())
        objects = placed(objects, raw->allColour.width(), raw->allColour.height(), raw->frame.minX,
                         raw->frame.minY);
    const std::size_t bytes =
        objects.first.size() * sizeof(objects.first[0]) + objects.samples.size() * sizeof(ObjectShare);
    return m_kept->objects.put(kept, std::make_shared<const ObjectShares>(std::move(objects)), bytes);
}

const Keeping& PassSource::keeping() const noexcept
{
    return m_kept->keeping;
}

std::optional<std::filesystem::path> PassSource::fileOf(const Sequence& files, int frame) const
{
    if (files.has(frame)) return files.file(frame);
    if (m_options.missing != MissingFrames::hold) return std::nullopt;
    return files.file(files.nearestTo(frame));
}

std::vector<std::filesystem::path> PassSource::filesOf(int frame) const
{
    std::vector<std::filesystem::path> found;
    if (!m_absentBecause.empty() || isBlack(frame)) return found;
    for (const Sequence* files : {&m_colourFiles, &m_depthFiles, m_alphaFiles ? &*m_alphaFiles : nullptr})
        if (files)
            if (auto file = fileOf(*files, frame); file && std::ranges::find(found, *file) == found.end())
                found.push_back(*std::move(file));
    return found;
}

const Sequence* PassSource::filesBeside(const std::filesystem::path& file) const
{
    const std::lock_guard lock(m_besideMutex);
    if (const auto known = m_beside.find(file); known != m_beside.end()) return &known->second;
    try {
        return &m_beside.emplace(file, Sequence::findBeside(m_colourFiles, file)).first->second;
    } catch (const Error&) { // said where it is read; it may come
        return nullptr;
    }
}

std::string PassSource::stateOf(int frame) const
{
    std::string state;
    for (const auto& file : filesOf(frame))
        state += fileState(file);
    return state;
}

const std::string& PassSource::filesState() const
{
    std::call_once(m_stateAsked, [this] {
        for (int frame = m_firstFrame; frame <= (isStill() ? m_firstFrame : m_lastFrame); ++frame)
            m_filesState += stateOf(frame);
        if (m_motionFiles)
            for (int frame = m_firstFrame; frame <= m_lastFrame; ++frame)
                m_filesState += fileState(*m_motionFiles, frame);
    });
    return m_filesState;
}

void PassSource::forgetFrames() const
{
    m_kept->raw.clear();
    m_kept->withDistances.clear();
    m_kept->objects.clear();
    const std::lock_guard lock(m_othersMutex);
    for (const auto& [kind, others] : m_others)
        others->forgetFrames();
}

void PassSource::prefetch(int frame, const Run& run) const noexcept
{
    try {
        (void)loadRaw(frame, run);
    } catch (...) { // whoever loads the frame is told
    }
}

} // namespace retinex::passes
