#include "app/pictures/picture_maker.h"

#include "core/frame/lay_in.h"
#include "core/passes/mattes/mattes.h"
#include "core/system/error.h"

namespace retinex::app {

namespace {

QImage viewImage(const RgbaImage& values, const colour::ViewTransform& view, const Looking& looking,
                 const Run& run)
{
    if (!looking.isPlain()) return viewImage(seenWith(values, looking), view, {}, run);
    QImage image(values.width(), values.height(), QImage::Format_RGB32);
    view.apply(values, reinterpret_cast<std::uint32_t*>(image.bits()), {run.threads, {}, run.stop});
    return image;
}

QImage chosenMatte(const PictureRequest& request)
{
    const passes::MatteChoice* shown = shownMatte(request);
    if (!shown)
        throw Error("There is no matte pass. Add one in the Passes section, or drop a file with mattes.");
    passes::MatteChoice matte = *shown;
    const auto files = passes::Sequence::findBeside(request.source->colourFiles(), matte.file);
    matte.file = files.requireFile(request.frame);
    return matteImage(passes::readMatte(matte));
}

/// The Blur view: what the lens makes of the distances.
void showBlur(const PictureRequest& request, Picture& picture, const Run& run)
{
    const auto settings = request.project->lensSettingsAt(request.frame, picture.passes->raw->pixelAspect);
    const Plane<float> radius =
        defocus::blurRadiusPx(picture.passes->distance(), picture.passes->blur(), settings, run);
    picture.blurTones =
        blurTones(radius, picture.passes->distance().width() * settings.pixelAspect / settings.sensorWidthMm);
    picture.image = blurImage(radius, picture.blurTones);
}

void showRepair(const PictureRequest& request, Picture& picture, const Run& run)
{
    RepairPicture shown =
        repairPicture(frame::repairFrame(*request.source, *request.project, request.frame, run));
    picture.values = std::make_shared<RgbaImage>(std::move(shown.values));
    picture.image = viewImage(*picture.values, *request.view, request.looking, run);
    markRepair(picture.image, shown.marks);
}

} // namespace

const passes::MatteChoice* shownMatte(const PictureRequest& request)
{
    const auto& mattes = request.project->mattes;
    if (mattes.empty()) return nullptr;
    return &mattes[std::min(static_cast<std::size_t>(std::max(0, request.matte)), mattes.size() - 1)];
}

std::optional<QPoint> Picture::placeOf(int x, int y) const
{
    if (image.isNull() || (!detail.part.empty() && !detail.part.contains(x, y))) return std::nullopt;
    return QPoint(std::min(x / detail.divisor - detail.part.minX / detail.divisor, image.width() - 1),
                  std::min(y / detail.divisor - detail.part.minY / detail.divisor, image.height() - 1));
}

bool canBeReduced(const passes::FramePasses& passes)
{
    return !passes.raw->hasOverscan() && !passes.deep;
}

Picture makePicture(const PictureRequest& request, const PictureDetail& detail, const Run& run)
{
    Picture picture;
    picture.number = request.number;
    picture.frame = request.frame;
    picture.mode = request.mode;
    picture.looking = request.looking;
    if (request.mode == ViewMode::result) picture.detail = detail;
    const auto reading = request.project->valuesAt(request.frame).reading;
    if (request.mode == ViewMode::result) {
        auto result = frame::renderFrame(*request.source,
                                         {request.project, request.frame, detail.divisor, detail.part,
                                          detail.isPassing, request.looking.isUnfinished,
                                          finish::Quality::screen, false, request.lensPictures},
                                         run);
        picture.passes = result.passes;
        picture.unfinished = result.unfinished;
        picture.unfinishedBox = result.unfinishedBox;
        picture.values = std::make_shared<RgbaImage>(std::move(result.image));
    } else {
        picture.passes = frame::framePasses(*request.source, *request.project, request.frame, run);
        if (request.mode == ViewMode::source || request.mode == ViewMode::zones)
            picture.values = std::shared_ptr<const RgbaImage>(picture.passes, &picture.passes->colour());
    }
    picture.tones = {request.toneScale, reading.nearest, reading.farthest};
    run.throwIfStopped();
    if (request.mode == ViewMode::blur)
        showBlur(request, picture, run);
    else if (request.mode == ViewMode::repair)
        showRepair(request, picture, run);
    else if (picture.values)
        picture.image = viewImage(*picture.values, *request.view, request.looking, run);
    else if (request.mode == ViewMode::mattes)
        picture.image = chosenMatte(request);
    else
        picture.image = depthImage(*picture.passes, picture.tones);
    return picture;
}

} // namespace retinex::app
