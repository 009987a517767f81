#include "app/jobs/picture_maker.h"

#include <cmath>

namespace retinex::app {

namespace {

/// Near is bright; logarithmic, so that near and far are equally readable. Gaps show as a fine diagonal
/// weave.
QImage depthImage(const Plane<float>& distance, double nearest, double farthest)
{
    QImage image(distance.width(), distance.height(), QImage::Format_RGB32);
    const double low = std::log(std::max(nearest, 1e-9));
    const double span = std::max(std::log(std::max(farthest, 1e-9)) - low, 1e-9);
    for (int y = 0; y < distance.height(); ++y) {
        auto* line = reinterpret_cast<QRgb*>(image.scanLine(y));
        for (int x = 0; x < distance.width(); ++x) {
            const float value = distance.at(x, y);
            int grey = (x + y) % 8 < 2 ? 54 : 20;
            if (std::isfinite(value))
                grey = static_cast<int>(
                    std::lround(240.0 - 200.0 * std::clamp((std::log(value) - low) / span, 0.0, 1.0)));
            line[x] = qRgb(grey, grey, grey);
        }
    }
    return image;
}

QImage viewImage(const RgbaImage& values, const colour::ViewTransform& view, const Run& run)
{
    QImage image(values.width(), values.height(), QImage::Format_RGB32);
    view.apply(values, reinterpret_cast<std::uint32_t*>(image.bits()), {run.threads, {}, run.stop});
    return image;
}

} // namespace

Picture makePicture(const PictureRequest& request, int divisor, const Run& run)
{
    Picture picture;
    picture.number = request.number;
    picture.frame = request.frame;
    picture.mode = request.mode;
    picture.divisor = request.mode == ViewMode::result ? divisor : 1;
    if (request.mode == ViewMode::result) {
        auto result = delivery::renderFrame(*request.source, {request.project, request.frame, divisor}, run);
        picture.passes = result.passes;
        picture.values = std::make_shared<RgbaImage>(std::move(result.image));
    } else {
        picture.passes = request.source->load(request.frame, request.project->readingForRender());
        if (request.mode != ViewMode::depth)
            picture.values = std::shared_ptr<const RgbaImage>(picture.passes, &picture.passes->colour());
    }
    picture.distanceNearest = picture.passes->range.nearest;
    picture.distanceFarthest = picture.passes->range.farthest;
    run.throwIfStopped();
    picture.image = picture.values ? viewImage(*picture.values, *request.view, run)
                                   : depthImage(picture.passes->distance, picture.distanceNearest,
                                                picture.distanceFarthest);
    return picture;
}

} // namespace retinex::app
