#include "core/delivery/frame_pipeline.h"

namespace retinex::delivery {

FrameResult renderFrame(const passes::PassSource& source, const FrameRequest& request, const Run& run)
{
    FrameResult result;
    result.passes = source.load(request.frame);
    run.throwIfStopped();
    auto settings = request.project->settingsAt(request.frame, result.passes->pixelAspect);
    if (request.divisor <= 1) {
        result.image = defocus::defocus(result.passes->colour, result.passes->distance, settings, run);
        return result;
    }
    settings.blurLimitPx /= request.divisor;
    const auto small = passes::reduced(*result.passes, request.divisor);
    result.image = defocus::defocus(small->colour, small->distance, settings, run);
    return result;
}

} // namespace retinex::delivery
