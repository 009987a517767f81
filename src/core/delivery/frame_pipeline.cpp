#include "core/delivery/frame_pipeline.h"

#include <algorithm>

namespace retinex::delivery {

namespace {

/// Through the lens with all that the files hold, cut to the frame afterwards.
RgbaImage withOverscan(const passes::FramePasses& passes, defocus::LensSettings settings, const Run& run)
{
    const passes::Overscan& overscan = *passes.raw->overscan;
    const int width = passes.colour().width();
    const int height = passes.colour().height();
    settings.frame = {overscan.left, overscan.top, width, height};
    const RgbaImage all = passes.deep
                              ? defocus::defocus(*passes.deep, settings, run)
                              : defocus::defocus(overscan.colour, passes.overscanDistance, settings, run);
    RgbaImage frame(width, height);
    for (int c = 0; c < RgbaImage::channels; ++c)
        for (int y = 0; y < height; ++y)
            std::copy_n(all.plane(c).row(y + overscan.top) + overscan.left, width, frame.plane(c).row(y));
    return frame;
}

} // namespace

FrameResult renderFrame(const passes::PassSource& source, const FrameRequest& request, const Run& run)
{
    FrameResult result;
    result.passes = source.load(request.frame, request.project->readingForRender());
    run.throwIfStopped();
    auto settings = request.project->settingsAt(request.frame, result.passes->raw->pixelAspect);
    if (request.divisor <= 1) {
        const passes::FramePasses& passes = *result.passes;
        result.image = passes.raw->overscan ? withOverscan(passes, settings, run)
                       : passes.deep        ? defocus::defocus(*passes.deep, settings, run)
                                     : defocus::defocus(passes.colour(), passes.distance, settings, run);
        return result;
    }
    settings.blur.limitNearPx /= request.divisor;
    settings.blur.limitFarPx /= request.divisor;
    if (settings.simpleLens) settings.simpleLens->radiusPx /= request.divisor;
    const auto small =
        source.loadReduced(request.frame, request.project->readingForRender(), request.divisor);
    result.image = defocus::defocus(small->colour(), small->distance, settings, run);
    return result;
}

} // namespace retinex::delivery
