#include "core/delivery/frame_views.h"

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/passes/file_state.h"
#include "core/passes/scene/camera_data.h"
#include "core/views/look_behind.h"

#include <algorithm>
#include <cmath>

namespace retinex::delivery {

namespace {

using views::ViewCamera;
using views::Views;

constexpr int kFarthest = 24; ///< frames

Views viewsAt(const project::Project& project, int frame)
{
    return project.shotAt(frame).settings.views;
}

/// The frames of its shot that may be looked at.
std::vector<int> candidates(const passes::PassSource& source, const project::Project& project, int frame)
{
    if (source.colourFiles().isStill()) return {};
    const auto range = project.framesOf(project.shotIndexAt(frame));
    std::vector<int> frames;
    for (int other = std::max(range.first, frame - kFarthest);
         other <= std::min(range.last, frame + kFarthest); ++other)
        if (other != frame && source.colourFiles().has(other)) frames.push_back(other);
    return frames;
}

double fieldOfView(const project::Project& project, int frame)
{
    const auto values = project.valuesAt(frame);
    return passes::fieldOfViewFor(values.focalLengthMm, values.sensorWidthMm);
}

std::optional<ViewCamera> cameraOf(const passes::FramePasses& passes, const project::Project& project,
                                   int frame)
{
    return ViewCamera::of(passes.raw->header, passes.colour().width(), passes.colour().height(),
                          fieldOfView(project, frame));
}

/// Of a frame that is not loaded, from its header alone; nothing where there is none.
std::optional<ViewCamera> cameraAt(const passes::PassSource& source, const project::Project& project,
                                   int frame)
{
    try {
        if (!source.colourFiles().has(frame)) return std::nullopt;
        const auto file = source.colourFiles().file(frame);
        if (file.extension() != ".exr") return std::nullopt;
        return ViewCamera::of(passes::readExrHeader(file, 0), source.width(), source.height(),
                              fieldOfView(project, frame));
    } catch (const Error&) { // missing or damaged: said where its pixels are read
        return std::nullopt;
    }
}

/// As large as all that the files hold.
SeenBehindPtr withOverscan(const SeenBehindPtr& seen, const passes::Overscan& overscan)
{
    auto larger = std::make_shared<SeenBehind>(overscan.colour.width(), overscan.colour.height());
    const auto place = [&](const Plane<float>& from, Plane<float>& to) {
        for (int y = 0; y < from.height(); ++y)
            std::copy_n(from.row(y), from.width(), to.row(y + overscan.top) + overscan.left);
    };
    for (int c = 0; c < RgbaImage::channels; ++c)
        place(seen->colour.plane(c), larger->colour.plane(c));
    place(seen->distance, larger->distance);
    place(seen->weight, larger->weight);
    return larger;
}

} // namespace

bool tellsCameras(const passes::PassSource& source)
{
    if (source.colourFiles().isStill()) return false;
    try {
        const auto file = source.colourFiles().file(source.firstFrame());
        constexpr double any = 40.0; // degrees
        return file.extension() == ".exr" &&
               ViewCamera::of(passes::readExrHeader(file, 0), 16, 9, any).has_value();
    } catch (const Error&) {
        return false;
    }
}

std::vector<int> viewedFrames(const passes::PassSource& source, const project::Project& project, int frame,
                              const passes::FramePasses& passes)
{
    if (viewsAt(project, frame) == Views::off || passes.deep || !passes.range.hasSurface()) return {};
    const auto all = candidates(source, project, frame);
    const auto own = all.empty() ? std::nullopt : cameraOf(passes, project, frame);
    if (!own) return {};
    const auto settings = project.lensSettingsAt(frame, passes.raw->pixelAspect);
    const double nearest = passes.range.nearest;
    const double farther = std::max(1.5 * nearest, project.valuesAt(frame).focusDistance);
    const double radius = std::abs(settings.blurModel(source.width()).radiusPx(nearest));
    // How far what is nearest moves against what it hides, px, from the frame to another.
    const auto moves = [&](const ViewCamera& other) {
        const auto at = [&](double distance) {
            return other.see(own->pointAt(0.5 * source.width(), 0.5 * source.height(), distance));
        };
        const auto a = at(nearest);
        const auto b = at(farther);
        return a.distance > 0.0 && b.distance > 0.0 ? std::hypot(a.x - b.x, a.y - b.y) : 0.0;
    };
    std::vector<double> wanted{radius + 4.0, 3.0 * radius + 8.0};
    if (viewsAt(project, frame) == Views::farFrames) wanted.push_back(8.0 * radius + 16.0);
    std::vector<int> chosen;
    for (const int side : {-1, 1}) {
        const auto next = std::ranges::find(all, frame + side);
        const auto camera = next == all.end() ? std::nullopt : cameraAt(source, project, *next);
        const double each = camera ? moves(*camera) : 0.0;
        if (each < 0.02) continue; // it stands still
        for (const double px : wanted) {
            const int step = std::clamp(static_cast<int>(std::lround(px / each)), 1, kFarthest);
            const int other = frame + side * step;
            if (std::ranges::find(all, other) != all.end() &&
                std::ranges::find(chosen, other) == chosen.end())
                chosen.push_back(other);
        }
    }
    std::ranges::stable_sort(chosen, {}, [&](int other) { return std::abs(other - frame); });
    return chosen;
}

namespace {

struct Looked
{
    SeenBehindPtr seen;
    std::vector<views::Agreement> agreements; ///< of each that was looked at
};

Looked look(const passes::PassSource& source, const project::Project& project, int frame,
            const passes::FramePasses& passes, const Run& run)
{
    Looked looked;
    const auto frames = viewedFrames(source, project, frame, passes);
    if (frames.empty()) return looked;
    std::vector<passes::FramePassesPtr> kept;
    std::vector<views::View> neighbours;
    for (const int other : frames) {
        try {
            kept.push_back(source.load(other, project.readingAt(other), run));
            if (const auto camera = cameraOf(*kept.back(), project, other))
                neighbours.push_back({&kept.back()->colour(), &kept.back()->distance, *camera});
        } catch (const Error&) { // done without
        }
    }
    const auto model =
        project.lensSettingsAt(frame, passes.raw->pixelAspect).blurModel(passes.colour().width());
    looked.seen = views::lookBehind({&passes.colour(), &passes.distance, *cameraOf(passes, project, frame)},
                                    neighbours, model, run, &looked.agreements);
    return looked;
}

} // namespace

SeenBehindPtr seenBehind(const passes::PassSource& source, const project::Project& project, int frame,
                         const passes::FramePasses& passes, const Run& run)
{
    auto seen = look(source, project, frame, passes, {run.threads, {}, run.stop}).seen;
    return seen && passes.raw->overscan ? withOverscan(seen, *passes.raw->overscan) : seen;
}

std::optional<passes::Finding> viewsFinding(const passes::PassSource& source, const project::Project& project,
                                            int frame, const Run& run)
{
    const Run quiet{run.threads, {}, run.stop};
    const auto passes = source.load(frame, project.readingAt(frame), quiet);
    const auto agreements = look(source, project, frame, *passes, quiet).agreements;
    double best = 0.0;
    for (const views::Agreement& each : agreements) {
        if (each.isGood()) return std::nullopt;
        best = std::max(best, each.agrees);
    }
    if (agreements.empty()) return std::nullopt;
    return passes::Finding{
        "cameras-do-not-fit", passes::Finding::Weight::note,
        say("The cameras in the headers do not fit the pictures: placed in frame {} by them, {:.0f} % of "
            "what other frames show agrees with it.",
            frame, 100.0 * best),
        say("Other frames are not looked at: what this one hides is guessed."),
        say("Check the scene scale of the depth pass, and that each file has the camera of its own frame.")};
}

std::string viewsState(const passes::PassSource& source, const project::Project& project, int frame)
{
    if (viewsAt(project, frame) == Views::off || source.colourFiles().isStill()) return {};
    if (!cameraAt(source, project, frame)) return {};
    std::string state;
    for (const int other : candidates(source, project, frame))
        state +=
            passes::fileState(source.colourFiles(), other) + passes::fileState(source.depthFiles(), other);
    return state;
}

} // namespace retinex::delivery
