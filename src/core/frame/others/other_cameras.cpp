#include "core/frame/others/other_cameras.h"

#include "core/frame/depends_on.h"
#include "core/frame/kept_frames.h"
#include "core/frame/to_distances.h"
#include "core/others/tracked_points.h"
#include "core/passes/scene/camera_data.h"
#include "core/system/error.h"

#include <cmath>
#include <fmt/format.h>

namespace retinex::frame {

namespace {

using others::CameraStep;
using others::FrameCamera;

/// What a frame's distances depend on, and its motion vectors.
std::string stateOf(const passes::PassSource& source, const Project& project, int frame)
{
    FileStates files;
    DependsOn on(source, project, frame, files);
    on.stagesUpTo(Stage::distances);
    if (source.motionFiles()) on.frameOf(*source.motionFiles(), frame);
    return on.fingerprint();
}

constexpr std::size_t kMost = 512; ///< of each kind below, a few hundred bytes each but for points

/// What `make` makes, kept under a name that says all it depends on.
template <class Value, class Make>
Value noted(KeptValues<std::string, Value>& kept, const std::string& name, Make make)
{
    if (const auto found = kept.find(name)) return *found;
    Value value = make();
    kept.put(name, std::make_shared<const Value>(value), 0);
    return value;
}

/// Frames as vectors are told from: its own colour and vectors, and the neighbours' colour.
std::optional<others::MotionProposal> proposed(const passes::PassSource& source, const Project& project,
                                               int frame, const Run& run)
{
    const auto range = project.framesOf(project.shotIndexAt(frame));
    const auto neighbour = [&](int other) -> passes::RawPassesPtr {
        if (other < range.first || other > range.last || !source.colourFiles().has(other)) return nullptr;
        return source.loadRaw(other, run);
    };
    const MotionVectors vectors = source.loadMotion(frame, run);
    const auto own = source.loadRaw(frame, run);
    const auto next = neighbour(frame + 1);
    const auto previous = neighbour(frame - 1);
    return others::proposeMotion(own->colour(), vectors, next ? &next->colour() : nullptr,
                                 previous ? &previous->colour() : nullptr);
}

constexpr int kLongestHop = 8; ///< frames that points are followed over at once

struct Lens
{
    double fieldOfViewDeg;
    double pixelAspect;
};

/// Points that two frames share, and which of them they are told from.
struct Shared
{
    std::vector<others::Match> matches;
    bool isFromSecond = false;
};
using SharedPtr = std::shared_ptr<const Shared>;

/// What was told of cameras, and of what. All of it is small: there is nothing to let go of.
struct KeptCameras final : passes::KeptOfFrames
{
    explicit KeptCameras(const passes::Keeping& keeping)
        : motion(keeping.budget, 0.0, kMost), points(keeping.budget, 0.0, kMost),
          steps(keeping.budget, 0.0, kMost), headers(keeping.budget, 0.0, 1)
    {
    }
    void forgetFrames() override {}

    KeptValues<std::string, std::optional<others::MotionProposal>> motion;
    KeptValues<std::string, SharedPtr> points;
    KeptValues<std::string, std::optional<CameraStep>> steps;
    KeptValues<std::string, bool> headers; ///< whether the first one has a camera
};

Shared shared(const passes::PassSource& source, const Project& project, int frame, int other, const Run& run)
{
    const auto own = withDistances(source, project, frame, run);
    if (!source.motionFiles()) {
        const auto next = withDistances(source, project, other, run);
        return {others::trackedPoints(own->colour(), own->distance(), next->colour(), run)};
    }
    const auto reading = motionProposal(source, project, frame, run);
    if (!reading || reading->agrees < others::MotionProposal::kLeast) return {};
    if (reading->reading.to == others::VectorsTo::next)
        return {others::vectorMatches(source.loadMotion(frame, run), own->distance(), reading->reading)};
    const auto next = withDistances(source, project, other, run);
    return {others::vectorMatches(source.loadMotion(other, run), next->distance(), reading->reading), true};
}

/// From one frame to a later one, by what their files hold. The points are kept, and what is solved for one
/// field of view.
std::optional<CameraStep> stepFrom(const passes::PassSource& source, const Project& project, int frame,
                                   int other, const Lens& lens, const Run& run)
{
    for (const int each : {frame, other}) // those that stand in for missing ones tell nothing
        if (!source.colourFiles().has(each)) return std::nullopt;
    const std::string name = fmt::format("{} {} {} {}", frame, other, stateOf(source, project, frame),
                                         stateOf(source, project, other));
    auto& kept = source.kept<KeptCameras>();
    const auto points = noted(kept.points, name, [&] {
        try {
            return std::make_shared<const Shared>(shared(source, project, frame, other, run));
        } catch (const Error&) { // missing or damaged: said where its picture is made
            return std::make_shared<const Shared>();
        }
    });
    return noted(kept.steps, fmt::format("{} {} ", lens.fieldOfViewDeg, lens.pixelAspect) + name, [&] {
        auto step = others::solveCamera(points->matches, source.width(), source.height(), lens.fieldOfViewDeg,
                                        lens.pixelAspect);
        if (step && points->isFromSecond) step->firstToSecond.invert();
        return step;
    });
}

/// The same over `span` frames, a power of two: in one step where points can be followed so far, else in two
/// halves. Motion vectors lead to the next frame alone.
std::optional<CameraStep> hop(const passes::PassSource& source, const Project& project, int frame, int span,
                              const Lens& lens, const Run& run)
{
    run.throwIfStopped();
    if (span == 1 || !source.motionFiles()) {
        const auto step = stepFrom(source, project, frame, frame + span, lens, run);
        if (step && step->isGood()) return step;
        if (span == 1) return std::nullopt;
    }
    const auto first = hop(source, project, frame, span / 2, lens, run);
    if (!first) return std::nullopt;
    const auto second = hop(source, project, frame + span / 2, span / 2, lens, run);
    if (!second) return std::nullopt;
    return CameraStep{first->firstToSecond * second->firstToSecond,
                      std::hypot(first->errorPx, second->errorPx), std::min(first->agree, second->agree)};
}

} // namespace

std::optional<others::MotionProposal> motionProposal(const passes::PassSource& source, const Project& project,
                                                     int frame, const Run& run)
{
    if (!source.motionFiles()) return std::nullopt;
    const std::string name =
        fmt::format("{} {} {} {} {}", frame, project.shotIndexAt(frame), stateOf(source, project, frame - 1),
                    stateOf(source, project, frame), stateOf(source, project, frame + 1));
    return noted(source.kept<KeptCameras>().motion, name, [&]() -> std::optional<others::MotionProposal> {
        try {
            return proposed(source, project, frame, run);
        } catch (const Error&) {
            return std::nullopt;
        }
    });
}

CameraFrom cameraFrom(const passes::PassSource& source, const Project& project, int frame)
{
    if (source.colourFiles().isStill() || source.options().handMadeDepth || !source.absentBecause().empty() ||
        source.colourFiles().pattern().empty())
        return CameraFrom::nowhere;
    const auto hasCamera = [&] {
        try {
            const auto file = source.colourFiles().file(source.firstFrame());
            constexpr double any = 40.0; // degrees
            return file.extension() == ".exr" &&
                   FrameCamera::of(passes::readExrHeader(file, 0), 16, 9, any).has_value();
        } catch (const Error&) {
            return false;
        }
    };
    if (noted(source.kept<KeptCameras>().headers,
              FileStates().of(source.colourFiles().file(source.firstFrame())), hasCamera))
        return CameraFrom::headers;
    if (!project.scene.file.empty()) {
        try {
            const auto scene = KeptFrames::of(source).scene(project.scene.file);
            if (!scene->cameras().empty() &&
                (project.cameraAt(frame).empty() || scene->cameraNamed(project.cameraAt(frame)) >= 0))
                return CameraFrom::sceneFile;
        } catch (const Error&) { // said where the scene file is chosen, and by the check
        }
    }
    return source.motionFiles() ? CameraFrom::vectors : CameraFrom::picture;
}

FrameCameras::FrameCameras(const passes::PassSource& source, const Project& project, int frame,
                           const passes::FramePasses& passes, Run run)
    : m_source(source), m_project(project), m_frame(frame), m_pixelAspect(passes.raw->pixelAspect),
      m_run(std::move(run)), m_from(passes.deep ? CameraFrom::nowhere : cameraFrom(source, project, frame)),
      m_own(told(frame, passes.raw->header))
{
}

double FrameCameras::fieldOfView(int frame) const
{
    const auto values = m_project.valuesAt(frame);
    return passes::fieldOfViewFor(values.focalLengthMm, values.sensorWidthMm);
}

std::optional<FrameCamera> FrameCameras::told(int frame, const passes::HeaderPtr& header) const
{
    const int width = m_source.width();
    const int height = m_source.height();
    switch (m_from) {
    case CameraFrom::nowhere:
        return std::nullopt;
    case CameraFrom::headers:
        return FrameCamera::of(header, width, height, fieldOfView(frame));
    case CameraFrom::sceneFile: {
        const auto scene = KeptFrames::of(m_source).scene(m_project.scene.file);
        const std::string& name = m_project.cameraAt(frame);
        const int node = name.empty() ? scene->cameras().front().node : scene->cameraNamed(name);
        const double aspect = m_pixelAspect * width / height;
        return FrameCamera::of(scene->worldToCamera(node, m_project.scene.secondsAt(frame)), width, height,
                               scene->fieldOfViewDeg(node, aspect), m_pixelAspect);
    }
    case CameraFrom::vectors:
    case CameraFrom::picture:
        return FrameCamera::of(Imath::M44d(), width, height, fieldOfView(m_frame), m_pixelAspect);
    }
    return std::nullopt;
}

/// In hops of 1, 2, 4 ... frames from multiples of their length on, counted from the shot's first frame: few
/// for one frame, and the same for those beside it.
FrameCameras::Stand FrameCameras::standAt(int other) const
{
    const int begin = m_project.framesOf(m_project.shotIndexAt(m_frame)).first;
    const int last = std::max(m_frame, other);
    Stand stand{Imath::M44d(), 0.0};
    for (int at = std::min(m_frame, other); at < last;) {
        int span = 1;
        while ((at - begin) % (2 * span) == 0 && at + 2 * span <= last && span < kLongestHop)
            span *= 2;
        const auto step = hop(m_source, m_project, at, span, {fieldOfView(m_frame), m_pixelAspect}, m_run);
        if (!step) return {};
        stand.errorPx = std::hypot(stand.errorPx, step->errorPx);
        *stand.fromOwn = *stand.fromOwn * step->firstToSecond;
        at += span;
    }
    if (other < m_frame) stand.fromOwn->invert();
    return stand;
}

std::optional<FrameCamera> FrameCameras::at(int other)
{
    if (m_from == CameraFrom::headers) {
        try { // the header alone: its pixels may never be asked for
            const auto file = m_source.colourFiles().file(other);
            if (file.extension() != ".exr") return std::nullopt;
            return told(other, passes::readExrHeader(file, 0));
        } catch (const Error&) { // missing or damaged: said where its pixels are read
            return std::nullopt;
        }
    }
    if (m_from != CameraFrom::vectors && m_from != CameraFrom::picture) return told(other, nullptr);
    const Stand stand = standAt(other);
    if (!stand.fromOwn) return std::nullopt;
    if (stand.errorPx >= CameraStep::kMostError) return std::nullopt;
    m_isSolved = true;
    m_errorPx = std::max(m_errorPx, stand.errorPx);
    return FrameCamera::of(*stand.fromOwn, m_source.width(), m_source.height(), fieldOfView(m_frame),
                           m_pixelAspect);
}

} // namespace retinex::frame
