#include "core/delivery/frame_pipeline.h"

#include "core/defocus/part.h"

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
                          const project::Project& project, int frame)
{
    return passes.deep ? nullptr : source.loadObjects(frame, project.edgeMattesAt(frame));
}

/// Through the lens with all that the files hold; of that the frame, or a part of it.
RgbaImage withOverscan(const passes::FramePasses& passes, defocus::LensSettings settings, PixelBox part,
                       const Run& run, const ObjectShares* objects)
{
    const passes::Overscan& overscan = *passes.raw->overscan;
    const int width = passes.colour().width();
    const int height = passes.colour().height();
    settings.frame = placeInOverscan(passes);
    if (part.empty()) part = PixelBox::at(0, 0, width, height);
    part = PixelBox::at(part.minX + overscan.left, part.minY + overscan.top, part.width(), part.height());
    return passes.deep
               ? defocus::defocusPart(*passes.deep, settings, part, run)
               : defocus::defocusPart(overscan.colour, passes.overscanDistance, settings, part, run, objects);
}

RgbaImage throughLens(const passes::FramePasses& passes, const defocus::LensSettings& settings,
                      const PixelBox& part, const Run& run, const ObjectShares* objects)
{
    if (part.empty())
        return passes.deep ? defocus::defocus(*passes.deep, settings, run)
                           : defocus::defocus(passes.colour(), passes.distance, settings, run, objects);
    return passes.deep ? defocus::defocusPart(*passes.deep, settings, part, run)
                       : defocus::defocusPart(passes.colour(), passes.distance, settings, part, run, objects);
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
    result.passes = source.load(request.frame, request.project->readingAt(request.frame));
    run.throwIfStopped();
    auto settings = request.project->lensSettingsAt(request.frame, result.passes->raw->pixelAspect);
    settings.key = result.passes->raw->key;
    if (request.divisor <= 1) {
        const passes::FramePasses& passes = *result.passes;
        const ObjectSharesPtr objects = objectsOf(source, passes, *request.project, request.frame);
        run.throwIfStopped();
        result.image = passes.raw->overscan ? withOverscan(passes, settings, request.part, run, objects.get())
                                            : throughLens(passes, settings, request.part, run, objects.get());
        return result;
    }
    settings.isCoarse = true;
    settings.blur.limitNearPx /= request.divisor;
    settings.blur.limitFarPx /= request.divisor;
    if (settings.simpleLens) settings.simpleLens->radiusPx /= request.divisor;
    const auto small =
        source.loadReduced(request.frame, request.project->readingAt(request.frame), request.divisor);
    const PixelBox part =
        request.part.empty()
            ? PixelBox{}
            : reducedPart(request.part, request.divisor, small->distance.width(), small->distance.height());
    result.image = throughLens(*small, settings, part, run, nullptr);
    return result;
}

RepairedFrame repairFrame(const passes::PassSource& source, const project::Project& project, int frame,
                          const Run& run)
{
    RepairedFrame repaired;
    repaired.passes = source.load(frame, project.readingAt(frame));
    const passes::FramePasses& passes = *repaired.passes;
    const ObjectSharesPtr objects = objectsOf(source, passes, project, frame);
    run.throwIfStopped();
    auto settings = project.lensSettingsAt(frame, passes.raw->pixelAspect);
    settings.key = passes.raw->key;
    const passes::Overscan* overscan = passes.raw->overscan.get();
    if (overscan) settings.frame = placeInOverscan(passes);
    repaired.left = settings.frame.left;
    repaired.top = settings.frame.top;
    if (passes.deep)
        repaired.surfaces = defocus::takeApart(*passes.deep, settings, run);
    else
        repaired.surfaces = defocus::takeApart(overscan ? overscan->colour : passes.colour(),
                                               overscan ? passes.overscanDistance : passes.distance, settings,
                                               run, objects.get());
    return repaired;
}

} // namespace retinex::delivery
