#include "core/delivery/frame_pipeline.h"

#include "core/defocus/part.h"
#include "core/project/frame_stages.h"

#include <algorithm>

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

FrameResult renderFrame(const passes::PassSource& source, const FrameRequest& request, const Run& run)
{
    FrameResult result;
    result.passes = request.isPassing
                        ? source.load(request.frame, request.project->readingAt(request.frame), run)
                        : project::framePasses(source, *request.project, request.frame, run);
    run.throwIfStopped();
    auto settings = request.project->lensSettingsAt(request.frame, result.passes->raw->pixelAspect,
                                                    std::max(1, request.divisor));
    settings.key = keyOf(*result.passes);
    if (request.divisor <= 1) {
        const passes::FramePasses& passes = *result.passes;
        const auto input =
            lensInput(result.passes, objectsOf(source, passes, *request.project, request.frame, run));
        run.throwIfStopped();
        if (passes.raw->overscan) settings.frame = placeInOverscan(passes);
        result.image = throughLens(
            input, settings, passes.raw->overscan ? partInOverscan(passes, request.part) : request.part, run);
        return result;
    }
    settings.isCoarse = true;
    const auto small =
        project::reducedFramePasses(source, *request.project, request.frame, request.divisor, run);
    const PixelBox part =
        request.part.empty()
            ? PixelBox{}
            : reducedPart(request.part, request.divisor, small->distance.width(), small->distance.height());
    if (small->laidIn) settings.key = small->laidIn->key;
    result.image = throughLens(lensInput(small, nullptr), settings, part, run);
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
    repaired.surfaces = defocus::takeApart(lensInput(repaired.passes, objects), settings, run);
    return repaired;
}

} // namespace retinex::delivery
