#include "core/frame/render_frame.h"

#include "core/frame/finish_frame.h"
#include "core/frame/lay_in.h"
#include "core/frame/make_lens_input.h"
#include "core/frame/through_lens.h"
#include "core/frame/to_distances.h"

#include <algorithm>

namespace retinex::frame {

namespace {

/// The pixels of a picture at 1/divisor of the size that `part` of the full one falls into.
PixelBox reducedPart(const PixelBox& part, int divisor, int width, int height)
{
    return {part.minX / divisor, part.minY / divisor, std::min(part.maxX / divisor, width - 1),
            std::min(part.maxY / divisor, height - 1)};
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
    return {width, height, divisor > 1 ? PixelBox::at(0, 0, width, height) : passes.raw->extent()};
}

} // namespace

FrameResult renderFrame(const passes::PassSource& source, const FrameRequest& request, const Run& run)
{
    FrameResult result;
    const int divisor = std::max(1, request.divisor);
    result.passes = request.isPassing ? withDistances(source, *request.project, request.frame, run)
                                      : framePasses(source, *request.project, request.frame, run);
    run.throwIfStopped();
    finish::Steps steps = stepsOn(*request.project, request.frame, divisor);
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
    const LensRequest asked{*request.project, request.frame, divisor, part};
    std::shared_ptr<const RgbaImage> kept;
    RgbaImage picture;
    if (request.kept) {
        kept = keptThroughLens(source, asked, result.passes, *request.kept, run, result.unreadable);
        picture = *kept;
    } else {
        picture = throughLens(source, asked, result.passes, run, result.unreadable);
    }
    if (!steps.any()) {
        result.image = std::move(picture);
        return result;
    }
    run.throwIfStopped();
    result.unfinished = kept;
    result.unfinishedBox = needed;
    finish::Sources sources = finishSources(source, *request.project, request.frame, steps, divisor, run);
    sources.quality = request.quality;
    result.image = finish::finished({std::move(picture), needed, extent.width, extent.height, divisor},
                                    wanted, steps, sources, {run.threads, {}, run.stop});
    return result;
}

RepairedFrame repairFrame(const passes::PassSource& source, const Project& project, int frame, const Run& run)
{
    RepairedFrame repaired;
    repaired.passes = framePasses(source, project, frame, run);
    const LensReady ready = makeLensInput(source, project, frame, repaired.passes, run);
    repaired.left = ready.settings.frame.left;
    repaired.top = ready.settings.frame.top;
    repaired.seen = ready.input.seenBehindPtr();
    repaired.surfaces = defocus::takeApart(ready.input, ready.settings, run);
    return repaired;
}

} // namespace retinex::frame
