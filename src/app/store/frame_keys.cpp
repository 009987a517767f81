#include "app/store/frame_keys.h"

#include "core/passes/file_state.h"
#include "core/project/fingerprint.h"
#include "core/project/region_places.h"

#include <QCryptographicHash>
#include <fmt/format.h>
#include <set>

namespace retinex::app {

namespace {

/// Of the last stage that a view shows.
std::string stageFingerprint(const project::Project& project, ViewMode mode, int frame)
{
    switch (mode) {
    case ViewMode::source:
    case ViewMode::mattes:
        return {};
    case ViewMode::depth: {
        // Its grey runs between the two ends, whether distances depend on them or not.
        const depth::ReadingSettings scale = project.valuesAt(frame).reading;
        return project::layersFingerprint(project, frame) +
               fmt::format("{} {}", scale.nearest, scale.farthest);
    }
    case ViewMode::result:
        return project::finishFingerprint(project, frame);
    case ViewMode::zones:
    case ViewMode::blur:
    case ViewMode::repair:
        return project::throughLensFingerprint(project, frame);
    }
    return {};
}

/// The files of the mattes that a picture hangs on: the one that is shown, or those at its edges.
std::vector<passes::Sequence> mattesOf(const PictureRequest& request)
{
    const project::Project& project = *request.project;
    std::vector<passes::MatteChoice> mattes;
    if (request.mode == ViewMode::mattes) {
        if (const auto* shown = shownMatte(request)) mattes.push_back(*shown);
    } else if (request.mode == ViewMode::result || request.mode == ViewMode::repair ||
               (request.mode != ViewMode::source && project::hasRegions(project, request.frame))) {
        mattes = project.mattes;
    }
    std::set<std::filesystem::path> files;
    for (const auto& matte : mattes)
        files.insert(matte.file);
    std::vector<passes::Sequence> found;
    for (const auto& file : files)
        found.push_back(passes::Sequence::findBeside(request.source->colourFiles(), file));
    return found;
}

} // namespace

std::vector<QByteArray> frameKeys(const PictureRequest& request, int divisor)
{
    const project::Project& project = *request.project;
    QByteArray common = QByteArray::fromStdString(project::passesFingerprint(project) + request.view->id());
    for (const int number : {static_cast<int>(request.mode), static_cast<int>(request.toneScale), divisor})
        common += QByteArray::number(number) + '/';
    if (request.looking.isUnfinished && request.mode == ViewMode::result) common += "unfinished/";
    common += QByteArray::number(request.looking.stops) + '/' +
              QByteArray::number(static_cast<int>(request.looking.channel)) + '/';
    if (const auto* shown = shownMatte(request); shown && request.mode == ViewMode::mattes)
        common += QByteArray::fromStdString(shown->file.string() + shown->name);
    if (request.mode == ViewMode::result || request.mode == ViewMode::repair)
        common +=
            QByteArray::fromStdString(project.scene.file.string() + passes::fileState(project.scene.file));
    const std::vector<passes::Sequence> mattes = mattesOf(request);
    std::vector<QByteArray> keys;
    for (int frame = project.firstFrame; frame <= project.lastFrame; ++frame) {
        std::string files = passes::fileState(request.source->colourFiles(), frame) +
                            passes::fileState(request.source->depthFiles(), frame);
        if (const auto& alpha = request.source->alphaFiles()) files += passes::fileState(*alpha, frame);
        for (const passes::Sequence& matte : mattes)
            files += passes::fileState(matte, frame);
        QByteArray text = common + QByteArray::number(frame) + '/' + QByteArray::fromStdString(files);
        text += QByteArray::fromStdString(stageFingerprint(project, request.mode, frame));
        if (request.mode == ViewMode::zones) // drawn by the limits, which the picture does not depend on
            text += QByteArray::number(project.valuesAt(frame).acceptedCocMm);
        keys.push_back(QCryptographicHash::hash(text, QCryptographicHash::Md5).toHex());
    }
    return keys;
}

} // namespace retinex::app
