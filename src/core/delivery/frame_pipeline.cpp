#include "core/delivery/frame_pipeline.h"

#include "core/base/reduced.h"
#include "core/defocus/part.h"
#include "core/delivery/frame_views.h"
#include "core/passes/file_state.h"
#include "core/project/fingerprint.h"
#include "core/project/finish_sources.h"
#include "core/project/frame_stages.h"

#include <algorithm>
#include <fmt/format.h>

namespace retinex::delivery {

namespace {

/// Where the frame lies in all that the files hold of it.
defocus::FramePlace placeInOverscan(const passes::FramePasses& passes)
{
    const passes::Overscan& overscan = *passes.raw->overscan;
    return {overscan.left, overscan.top, passes.colour().width(), passes.colour().height()};
}

/// What the project's mattes say of it; null where a deep pass says more.
ObjectSharesPtr objectsOf(const passes::PassSource& source, const passes::FramePasses& passes,
                          const project::Project& project, int frame, const Run& run)
{
    return passes.deep ? nullptr : source.loadObjects(frame, project.edgeMattesAt(frame), run);
}

/// What goes through the lens at full size: all that the files hold, overscan too.
defocus::LensInput lensInput(const passes::FramePassesPtr& passes, ObjectSharesPtr objects)
{
    if (passes->laidIn) {
        defocus::LensInput input = lensInput(passes->laidIn->scene, std::move(objects));
        input.setLayers({passes->laidIn, &passes->laidIn->layers});
        return input;
    }
    const auto& overscan = passes->raw->overscan;
    defocus::LensInput input;
    if (passes->deep)
        input = defocus::LensInput(passes->deep);
    else if (overscan)
        input = {std::shared_ptr<const RgbaImage>(overscan, &overscan->colour),
                 std::shared_ptr<const Plane<float>>(passes, &passes->overscanDistance), std::move(objects)};
    else
        input = {std::shared_ptr<const RgbaImage>(passes->raw, &passes->raw->colour),
                 std::shared_ptr<const Plane<float>>(passes, &passes->distance), std::move(objects)};
    input.setBlurShare(overscan ? passes->overscanBlur : passes->blur);
    return input;
}

/// Without what is laid in.
const passes::FramePasses& sceneOf(const passes::FramePasses& passes)
{
    return passes.laidIn ? *passes.laidIn->scene : passes;
}

double keyOf(const passes::FramePasses& passes)
{
    return passes.laidIn ? passes.laidIn->key : passes.raw->key;
}

/// A part of it; empty: all.
RgbaImage throughLens(const defocus::LensInput& input, const defocus::LensSettings& settings,
                      const PixelBox& part, const Run& run)
{
    return part.empty() ? defocus::defocus(input, settings, run)
                        : defocus::defocusPart(input, settings, part, run);
}

/// With overscan the frame is a part of what goes through the lens.
PixelBox partInOverscan(const passes::FramePasses& passes, PixelBox part)
{
    const passes::Overscan& overscan = *passes.raw->overscan;
    if (part.empty()) part = PixelBox::at(0, 0, passes.colour().width(), passes.colour().height());
    return PixelBox::at(part.minX + overscan.left, part.minY + overscan.top, part.width(), part.height());
}

/// The pixels of a picture at 1/divisor of the size that `part` of the full one falls into.
PixelBox reducedPart(const PixelBox& part, int divisor, int width, int height)
{
    return {part.minX / divisor, part.minY / divisor, std::min(part.maxX / divisor, width - 1),
            std::min(part.maxY / divisor, height - 1)};
}

} // namespace

namespace {

/// The picture through the lens on its own: the part of the frame asked for, at the request's size. With
/// overscan the part may lie beyond the frame.
RgbaImage lensPicture(const passes::PassSource& source, const FrameRequest& request,
                      const passes::FramePassesPtr& passes, const PixelBox& part, const Run& run,
                      std::vector<int>& doneWithout)
{
    auto settings = request.project->lensSettingsAt(request.frame, passes->raw->pixelAspect,
                                                    std::max(1, request.divisor));
    settings.key = keyOf(*passes);
    if (request.divisor <= 1) {
        auto input = lensInput(passes, objectsOf(source, *passes, *request.project, request.frame, run));
        run.throwIfStopped();
        input.setSeenBehind(
            seenBehind(source, *request.project, request.frame, sceneOf(*passes), run, &doneWithout));
        if (passes->raw->overscan) settings.frame = placeInOverscan(*passes);
        return throughLens(input, settings, passes->raw->overscan ? partInOverscan(*passes, part) : part,
                           run);
    }
    settings.isCoarse = true;
    const auto small =
        project::reducedFramePasses(source, *request.project, request.frame, request.divisor, run);
    if (small->laidIn) settings.key = small->laidIn->key;
    return throughLens(lensInput(small, nullptr), settings, part, run);
}

/// What a picture through the lens depends on, besides its size and part.
std::string lensKey(const passes::PassSource& source, const FrameRequest& request)
{
    std::string files = passes::fileState(source.colourFiles(), request.frame) +
                        passes::fileState(source.depthFiles(), request.frame);
    if (source.alphaFiles()) files += passes::fileState(*source.alphaFiles(), request.frame);
    files += viewsState(source, *request.project, request.frame);
    return fmt::format("{} {}\n{}{}", request.frame, files, project::passesFingerprint(*request.project),
                       project::throughLensFingerprint(*request.project, request.frame));
}

std::string keyOf(const std::string& lensKey, int divisor, const PixelBox& part)
{
    return fmt::format("{} {} {} {} {}\n", divisor, part.minX, part.minY, part.maxX, part.maxY) + lensKey;
}

/// A part of a picture of the whole frame, or all of it made smaller.
RgbaImage takenFrom(const RgbaImage& whole, int divisor, const PixelBox& part)
{
    RgbaImage taken = divisor > 1 ? RgbaImage() : RgbaImage(part.width(), part.height());
    for (int c = 0; c < RgbaImage::channels; ++c) {
        if (divisor > 1) {
            taken.plane(c) = averaged(whole.plane(c), divisor);
            continue;
        }
        for (int y = 0; y < part.height(); ++y)
            std::copy_n(whole.plane(c).row(y + part.minY) + part.minX, part.width(), taken.plane(c).row(y));
    }
    return taken;
}

/// Of those that are kept; made from the one of the whole frame where there is that, else by the lens.
std::shared_ptr<const RgbaImage> keptPicture(const passes::PassSource& source, const FrameRequest& request,
                                             const passes::FramePassesPtr& passes, const PixelBox& part,
                                             const Run& run, std::vector<int>& doneWithout)
{
    const int divisor = std::max(1, request.divisor);
    const std::string lens = lensKey(source, request);
    const std::string key = keyOf(lens, divisor, part);
    if (auto found = request.kept->find(key)) return found;
    for (int finer = 1; finer <= divisor; ++finer) {
        if (divisor % finer != 0 || (finer == divisor && part.empty())) continue;
        const auto whole = request.kept->find(keyOf(lens, finer, {}));
        if (!whole) continue;
        if (!part.empty() &&
            (finer != divisor || !PixelBox::at(0, 0, whole->width(), whole->height()).contains(part)))
            continue;
        auto picture = std::make_shared<const RgbaImage>(takenFrom(*whole, divisor / finer, part));
        request.kept->keep(key, picture);
        return picture;
    }
    auto picture =
        std::make_shared<const RgbaImage>(lensPicture(source, request, passes, part, run, doneWithout));
    request.kept->put(key, picture);
    return picture;
}

/// All of the frame at the request's size, and what there is beyond it.
struct Extent
{
    int width;
    int height;
    PixelBox all;
};

Extent extentOf(const passes::FramePasses& passes, int divisor)
{
    const int width = (passes.colour().width() + divisor - 1) / divisor;
    const int height = (passes.colour().height() + divisor - 1) / divisor;
    if (divisor > 1 || !passes.raw->overscan) return {width, height, PixelBox::at(0, 0, width, height)};
    const passes::Overscan& overscan = *passes.raw->overscan;
    return {width, height,
            PixelBox::at(-overscan.left, -overscan.top, overscan.colour.width(), overscan.colour.height())};
}

} // namespace

FrameResult renderFrame(const passes::PassSource& source, const FrameRequest& request, const Run& run)
{
    FrameResult result;
    const int divisor = std::max(1, request.divisor);
    result.passes = request.isPassing
                        ? source.load(request.frame, request.project->readingAt(request.frame), run)
                        : project::framePasses(source, *request.project, request.frame, run);
    run.throwIfStopped();
    finish::Steps steps = project::stepsOn(*request.project, request.frame, divisor);
    steps.finish.isOn = steps.finish.isOn && !request.isUnfinished;
    const Extent extent = extentOf(*result.passes, divisor);
    const PixelBox frame = PixelBox::at(0, 0, extent.width, extent.height);
    const PixelBox wanted = request.withOverscan && divisor == 1 ? extent.all
                            : request.part.empty()               ? frame
                            : divisor > 1 ? reducedPart(request.part, divisor, extent.width, extent.height)
                                          : request.part;
    result.box = wanted;
    const PixelBox needed =
        finish::neededFor(steps, wanted, extent.width, extent.height).intersected(extent.all);
    // All of it is asked for without a part: that takes less.
    const PixelBox part = needed == frame ? PixelBox() : needed;
    std::shared_ptr<const RgbaImage> picture;
    RgbaImage own;
    if (request.kept) {
        picture = keptPicture(source, request, result.passes, part, run, result.doneWithout);
        own = *picture;
    } else {
        own = lensPicture(source, request, result.passes, part, run, result.doneWithout);
    }
    if (!steps.any()) {
        result.image = std::move(own);
        return result;
    }
    run.throwIfStopped();
    result.unfinished = picture;
    result.unfinishedBox = needed;
    finish::Sources sources =
        project::finishSources(source, *request.project, request.frame, steps, divisor, run);
    sources.quality = request.quality;
    result.image = finish::finished({std::move(own), needed, extent.width, extent.height, divisor}, wanted,
                                    steps, sources, {run.threads, {}, run.stop});
    return result;
}

RepairedFrame repairFrame(const passes::PassSource& source, const project::Project& project, int frame,
                          const Run& run)
{
    RepairedFrame repaired;
    repaired.passes = project::framePasses(source, project, frame, run);
    const passes::FramePasses& passes = *repaired.passes;
    const ObjectSharesPtr objects = objectsOf(source, passes, project, frame, run);
    run.throwIfStopped();
    auto settings = project.lensSettingsAt(frame, passes.raw->pixelAspect);
    settings.key = keyOf(passes);
    const passes::Overscan* overscan = passes.raw->overscan.get();
    if (overscan) settings.frame = placeInOverscan(passes);
    repaired.left = settings.frame.left;
    repaired.top = settings.frame.top;
    auto input = lensInput(repaired.passes, objects);
    repaired.seen = seenBehind(source, project, frame, sceneOf(passes), run);
    input.setSeenBehind(repaired.seen);
    repaired.surfaces = defocus::takeApart(input, settings, run);
    return repaired;
}

} // namespace retinex::delivery
