#include "app/jobs/frame_keys.h"

#include "app/jobs/file_state.h"
#include "core/project/fingerprint.h"

#include <QCryptographicHash>
#include <algorithm>

namespace retinex::app {

namespace {

bool dependsOnSettings(ViewMode mode)
{
    return mode != ViewMode::source && mode != ViewMode::mattes;
}

const passes::MatteChoice* matteOf(const PictureRequest& request)
{
    const auto& mattes = request.project->mattes;
    if (request.mode != ViewMode::mattes || mattes.empty()) return nullptr;
    return &mattes[std::min(static_cast<std::size_t>(std::max(0, request.matte)), mattes.size() - 1)];
}

} // namespace

std::vector<QByteArray> frameKeys(const PictureRequest& request, int divisor)
{
    const project::Project& project = *request.project;
    QByteArray common = QByteArray::fromStdString(project::passesFingerprint(project) + request.view->id());
    for (const int number : {static_cast<int>(request.mode), static_cast<int>(request.toneScale), divisor})
        common += QByteArray::number(number) + '/';
    std::optional<passes::Sequence> mattes;
    if (const auto* matte = matteOf(request)) {
        common += QByteArray::fromStdString(matte->file.string() + matte->name);
        mattes = passes::Sequence::find(matte->file);
    }
    std::vector<QByteArray> keys;
    for (int frame = project.firstFrame; frame <= project.lastFrame; ++frame) {
        QByteArray text = common + QByteArray::number(frame) + '/' +
                          fileState(request.source->colourFiles(), frame) +
                          fileState(request.source->depthFiles(), frame);
        if (request.source->alphaFiles()) text += fileState(*request.source->alphaFiles(), frame);
        if (mattes) text += fileState(*mattes, frame);
        if (dependsOnSettings(request.mode))
            text += QByteArray::fromStdString(project::frameFingerprint(project, frame));
        if (request.mode == ViewMode::zones) // drawn by the limits, which the picture does not depend on
            text += QByteArray::number(project.valuesAt(frame).acceptedCocMm);
        keys.push_back(QCryptographicHash::hash(text, QCryptographicHash::Md5).toHex());
    }
    return keys;
}

} // namespace retinex::app
