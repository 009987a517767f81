#include "app/store/frame_keys.h"

#include "core/frame/depends_on.h"

#include <QCryptographicHash>

namespace retinex::app {

namespace {

using project::Stage;

/// The last stage that a view shows.
Stage stageOf(ViewMode mode)
{
    switch (mode) {
    case ViewMode::source:
    case ViewMode::mattes:
        return Stage::passes;
    case ViewMode::depth:
        return Stage::inserts;
    case ViewMode::result:
        return Stage::finish;
    case ViewMode::zones:
    case ViewMode::blur:
    case ViewMode::repair:
        return Stage::throughLens;
    }
    return Stage::finish;
}

} // namespace

std::vector<QByteArray> frameKeys(const PictureRequest& request, int divisor)
{
    const project::Project& project = *request.project;
    QByteArray common = QByteArray::fromStdString(request.view->id());
    for (const double number : {static_cast<double>(request.mode), static_cast<double>(request.toneScale),
                                static_cast<double>(divisor), static_cast<double>(request.looking.stops),
                                static_cast<double>(request.looking.channel)})
        common += QByteArray::number(number) + '/';
    const bool isUnfinished = request.looking.isUnfinished && request.mode == ViewMode::result;
    std::vector<QByteArray> keys;
    frame::FileStates files;
    for (int frame = project.firstFrame; frame <= project.lastFrame; ++frame) {
        frame::DependsOn on(*request.source, project, frame, files);
        on.stagesUpTo(isUnfinished ? Stage::throughLens : stageOf(request.mode));
        if (const auto* shown = shownMatte(request); shown && request.mode == ViewMode::mattes)
            on.matte(*shown, frame);
        QByteArray text =
            common + QByteArray::number(frame) + '/' + QByteArray::fromStdString(on.fingerprint());
        const project::Settings values = project.valuesAt(frame);
        if (request.mode == ViewMode::depth) // its grey runs between the ends, whether distances do or not
            text += QByteArray::number(values.reading.nearest) + '/' +
                    QByteArray::number(values.reading.farthest);
        if (request.mode == ViewMode::zones) // drawn by the limits, which the picture does not depend on
            text += QByteArray::number(values.acceptedCocMm);
        keys.push_back(QCryptographicHash::hash(text, QCryptographicHash::Md5).toHex());
    }
    return keys;
}

} // namespace retinex::app
