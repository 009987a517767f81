#include "core/frame/others/other_frames.h"

#include "core/frame/depends_on.h"
#include "core/frame/to_distances.h"
#include "core/others/look_behind.h"
#include "core/others/steps_away.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace retinex::frame {

namespace {

using others::OtherFrames;

/// Frames; less where each step on the way has to be solved.
int longestStep(CameraFrom from)
{
    return from == CameraFrom::vectors || from == CameraFrom::picture ? 8 : 16;
}

OtherFrames othersAt(const Project& project, int frame)
{
    return project.shotAt(frame).settings.otherFrames;
}

/// As large as the frame's planes.
SeenBehindPtr amongAll(const SeenBehindPtr& seen, const passes::RawPasses& raw)
{
    auto larger = std::make_shared<SeenBehind>(raw.allColour.width(), raw.allColour.height());
    const auto place = [&](const Plane<float>& from, Plane<float>& to) {
        for (int y = 0; y < from.height(); ++y)
            std::copy_n(from.row(y), from.width(), to.row(y + raw.frame.minY) + raw.frame.minX);
    };
    for (int c = 0; c < RgbaImage::channels; ++c)
        place(seen->colour.plane(c), larger->colour.plane(c));
    place(seen->distance, larger->distance);
    place(seen->weight, larger->weight);
    return larger;
}

/// A frame that others look at.
struct Neighbour
{
    others::HalfImage colour;
    Plane<float> distance;
    Plane<std::uint8_t> whole;
};
using NeighbourPtr = std::shared_ptr<const Neighbour>;

struct KeptNeighbours final : passes::KeptOfFrames
{
    static constexpr std::size_t kLeast = 4; ///< as many as a frame looks at, of those that are near

    explicit KeptNeighbours(const passes::Keeping& keeping)
        : frames(keeping.budget, 0.3 * keeping.share, kLeast)
    {
    }
    void forgetFrames() override { frames.clear(); }

    KeptValues<std::string, Neighbour> frames;
};

NeighbourPtr neighbourAt(const passes::PassSource& source, const Project& project, int frame, const Run& run)
{
    const std::string name =
        fmt::format("{} {}", frame, fingerprint(source, project, frame, Stage::distances));
    auto& kept = source.kept<KeptNeighbours>().frames;
    if (auto found = kept.find(name)) return found;
    const auto passes = withDistances(source, project, frame, run);
    auto made = std::make_shared<Neighbour>();
    for (int c = 0; c < RgbaImage::channels; ++c) {
        const Plane<float>& plane = passes->colour().plane(c);
        auto& half = made->colour[static_cast<std::size_t>(c)];
        half = Plane<Imath::half>(plane.width(), plane.height());
        parallelFor(plane.height(), {run.threads, {}, run.stop},
                    [&](int y) { std::copy_n(plane.row(y), plane.width(), half.row(y)); });
    }
    made->distance = passes->distance();
    made->whole = others::wholePixels(passes->distance(), {run.threads, {}, run.stop});
    const std::size_t bytes =
        made->distance.size() * (RgbaImage::channels * sizeof(Imath::half) + sizeof(float) + 1);
    return kept.put(name, made, bytes);
}

/// The frames before and after on steps from the shot's first, half a step to one and a half away.
std::vector<int> around(int frame, int step, const timeline::FrameRange& range)
{
    const int before =
        range.first + step * static_cast<int>(std::floor((frame - (step + 1) / 2 - range.first) /
                                                         static_cast<double>(step)));
    const int after = range.first + step * ((frame + (step + 1) / 2 - range.first + step - 1) / step);
    return {std::max(before, range.first), std::min(after, range.last)};
}

std::vector<int> viewed(const passes::PassSource& source, const Project& project, int frame,
                        const passes::FramePasses& passes, FrameCameras& cameras)
{
    if (othersAt(project, frame) == OtherFrames::off || passes.deep || !passes.range.hasSurface() ||
        !cameras.own())
        return {};
    const auto range = project.framesOf(project.shotIndexAt(frame));
    const auto settings = project.lensSettingsAt(frame, passes.raw->pixelAspect);
    const double nearest = passes.range.nearest;
    const double farther = std::max(1.5 * nearest, project.valuesAt(frame).focusDistance);
    const double radius = std::abs(settings.blurModel(source.width()).radiusPx(nearest));
    double each = 0.0;
    for (const int next : {frame - 1, frame + 1})
        if (next >= range.first && next <= range.last && source.colourFiles().has(next))
            if (const auto camera = cameras.at(next))
                each = std::max(each, others::parallax(*cameras.own(), *camera, source.width(),
                                                       source.height(), nearest, farther));
    std::vector<int> chosen;
    for (const int step :
         others::stepsAway(othersAt(project, frame), radius, each, longestStep(cameras.from())))
        for (const int other : around(frame, step, range))
            if (other != frame && std::ranges::find(chosen, other) == chosen.end()) chosen.push_back(other);
    std::ranges::stable_sort(chosen, {}, [&](int other) { return std::abs(other - frame); });
    return chosen;
}

struct Looked
{
    SeenBehindPtr seen;
    std::vector<others::Agreement> agreements; ///< of each that was looked at
    OthersReport report;
};

Looked look(const passes::PassSource& source, const Project& project, int frame,
            const passes::FramePasses& passes, const Run& run)
{
    Looked looked;
    if (othersAt(project, frame) == OtherFrames::off) return looked;
    FrameCameras cameras(source, project, frame, passes, run);
    looked.report.from = cameras.from();
    const auto frames = viewed(source, project, frame, passes, cameras);
    std::vector<NeighbourPtr> kept;
    std::vector<others::View> neighbours;
    for (const int other : frames) {
        run.throwIfStopped();
        try {
            const auto camera = cameras.at(other);
            if (!camera) {
                looked.report.missing.push_back(other);
                continue;
            }
            kept.push_back(neighbourAt(source, project, other, run));
            neighbours.push_back(
                {nullptr, &kept.back()->distance, *camera, &kept.back()->whole, &kept.back()->colour});
            looked.report.frames.push_back(other);
        } catch (const Error&) { // done without
            looked.report.missing.push_back(other);
        }
    }
    if (cameras.from() == CameraFrom::vectors || cameras.from() == CameraFrom::picture) {
        looked.report.errorPx = cameras.errorPx();
        looked.report.isUnsolved = !cameras.isSolved();
    }
    if (neighbours.empty()) return looked;
    const auto model =
        project.lensSettingsAt(frame, passes.raw->pixelAspect).blurModel(passes.colour().width());
    looked.seen = others::lookBehind({&passes.colour(), &passes.distance(), *cameras.own()}, neighbours,
                                     model, run, &looked.agreements);
    return looked;
}

} // namespace

std::vector<int> chosenOthers(const passes::PassSource& source, const Project& project, int frame,
                              const passes::FramePasses& passes, const Run& run)
{
    if (othersAt(project, frame) == OtherFrames::off) return {};
    FrameCameras cameras(source, project, frame, passes, run);
    return viewed(source, project, frame, passes, cameras);
}

SeenBehindPtr seenBehind(const passes::PassSource& source, const Project& project, int frame,
                         const passes::FramePasses& passes, const Run& run, std::vector<int>* unreadable)
{
    const Looked looked = look(source, project, frame, passes, {run.threads, {}, run.stop});
    const SeenBehindPtr& seen = looked.seen;
    if (unreadable && !looked.report.isUnsolved)
        unreadable->insert(unreadable->end(), looked.report.missing.begin(), looked.report.missing.end());
    return seen && passes.raw->hasOverscan() ? amongAll(seen, *passes.raw) : seen;
}

OthersReport reportOthers(const passes::PassSource& source, const Project& project, int frame, const Run& run)
{
    const Run quiet{run.threads, {}, run.stop};
    const auto passes = withDistances(source, project, frame, quiet);
    Looked looked = look(source, project, frame, *passes, quiet);
    for (const others::Agreement& each : looked.agreements) {
        looked.report.agrees = std::max(looked.report.agrees, each.agrees);
        looked.report.fits |= each.isGood();
    }
    if (looked.report.from == CameraFrom::vectors)
        looked.report.vectors = motionProposal(source, project, frame, quiet);
    return looked.report;
}

std::string OthersReport::inWords() const
{
    const auto looks = [&] {
        if (frames.empty()) return say("the camera stands still, no other frame is looked at");
        return say("looks at frames {}", passes::describeFrames([&] {
                       auto rising = frames;
                       std::ranges::sort(rising);
                       return rising;
                   }()));
    };
    switch (from) {
    case CameraFrom::nowhere:
        return say("no camera");
    case CameraFrom::headers:
        return say("Camera from the files' headers: {}.", looks());
    case CameraFrom::sceneFile:
        return say("Camera from the scene file: {}.", looks());
    case CameraFrom::vectors:
    case CameraFrom::picture:
        break;
    }
    const bool isVectors = from == CameraFrom::vectors;
    if (isUnsolved)
        return isVectors ? say("The motion vectors tell no camera: no other frame is looked at.")
                         : say("The picture tells no camera: no other frame is looked at.");
    const double error = errorPx.value_or(0.0);
    return isVectors ? say("Camera from motion vectors, {:.2f} px off: {}.", error, looks())
                     : say("Camera from the picture, {:.2f} px off: {}.", error, looks());
}

std::vector<passes::Finding> othersFindings(const OthersReport& report, int frame)
{
    std::vector<passes::Finding> findings;
    const auto note = [&](const char* key, std::string matter, std::string meaning, std::string advice) {
        findings.push_back(
            {key, passes::Finding::Weight::note, std::move(matter), std::move(meaning), std::move(advice)});
    };
    if (!report.frames.empty() && !report.fits && report.from <= CameraFrom::sceneFile)
        note("cameras-do-not-fit",
             say("The cameras do not fit the pictures: placed in frame {} by them, {:.0f} % of what other "
                 "frames show agrees with it.",
                 frame, 100.0 * report.agrees),
             say("Other frames are not looked at: what this one hides is guessed."),
             say("Check the scene scale of the depth pass, and that each file has the camera of its own "
                 "frame."));
    if (report.from == CameraFrom::vectors && report.vectors) {
        const bool isGood = report.vectors->agrees >= others::MotionProposal::kLeast;
        std::string reasons = report.vectors->reading.axesInWords();
        for (const std::string& reason : report.vectors->reasons)
            reasons += " " + reason;
        note("motion-vectors",
             isGood ? say("Motion vectors: {}", report.vectors->reading.inWords())
                    : say("Motion vectors do not fit the pictures"),
             isGood ? reasons
                    : say("However they are read, little is found again where they lead; best as {}. {}",
                          report.vectors->reading.inWords(), reasons),
             isGood ? report.inWords() : say("Render them without motion blur, at the size of the frame."));
    }
    if (!report.missing.empty() && !report.isUnsolved)
        note("views-missing",
             say("Frames {} cannot be looked at from frame {}.", passes::describeFrames(report.missing),
                 frame),
             say("What they would show is guessed."), say("Render them again if they are damaged."));
    return findings;
}

std::string unreadableInWords(std::vector<int> frames)
{
    if (frames.empty()) return {};
    std::ranges::sort(frames);
    frames.erase(std::unique(frames.begin(), frames.end()), frames.end());
    return say("Frames {} could not be looked at from others: what they would show is guessed.",
               passes::describeFrames(frames));
}

namespace {

/// What one that looks at a frame depends on.
std::string stateOfOther(const DependsOn& on, int other)
{
    DependsOn there(on.source(), on.project(), other, on.files());
    there.stagesUpTo(Stage::distances);
    if (const auto& motion = on.source().motionFiles()) there.frameOf(*motion, other);
    // By which some cameras see; with marks it changes from frame to frame.
    there.text(fmt::format("{} {}", there.values().focalLengthMm, there.values().sensorWidthMm));
    return there.fingerprint();
}

} // namespace

void addOtherFrames(DependsOn& on)
{
    const passes::PassSource& source = on.source();
    const Project& project = on.project();
    if (on.values().otherFrames == OtherFrames::off) return;
    const CameraFrom from = cameraFrom(source, project, on.frame());
    if (from == CameraFrom::nowhere) return;
    const auto range = project.framesOf(project.shotIndexAt(on.frame()));
    on.text(fmt::format("{} {} {}", wordOf(from), range.first, range.last));
    if (from == CameraFrom::sceneFile) {
        on.file(project.scene.file);
        on.text(fmt::format("{} {} {} {}", project.scene.file.string(), project.cameraAt(on.frame()),
                            project.scene.framesPerSecond, project.scene.frameAtZero));
    }
    const int reach = longestStep(from) * 3 / 2;
    if (source.motionFiles()) on.frameOf(*source.motionFiles(), on.frame());
    for (int other = std::max(range.first, on.frame() - reach);
         other <= std::min(range.last, on.frame() + reach); ++other) {
        if (other == on.frame()) continue;
        on.text(fmt::format("{} {}", other - on.frame(),
                            on.files().ofNeighbour(other, [&] { return stateOfOther(on, other); })));
    }
}

} // namespace retinex::frame
