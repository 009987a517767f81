#include "app/controllers/presets_controller.h"

#include <QDir>
#include <QFileDialog>
#include <QMenu>
#include <QStandardPaths>

namespace retinex::app {

namespace {

/// Where they are kept unless another place is chosen.
QString presetFolder()
{
    const QString folder = QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) +
                           QStringLiteral("/retinex/presets");
    QDir().mkpath(folder);
    return folder;
}

QString endingOf(project::PresetKind kind)
{
    return kind == project::PresetKind::lens ? QStringLiteral(".lens.json") : QStringLiteral(".finish.json");
}

QString filterOf(project::PresetKind kind)
{
    return kind == project::PresetKind::lens ? PresetsController::tr("Lens kits (*.lens.json)")
                                             : PresetsController::tr("Finishes (*.finish.json)");
}

} // namespace

void PresetsController::addActions(QMenu& menu)
{
    using project::PresetKind;
    Actions& actions = m_bench.actions;
    actions.add(
        menu, tr("&Keep as lens kit…"), {}, [this] { keep(PresetKind::lens); }, When::open);
    actions.add(
        menu, tr("Use a &lens kit…"), {}, [this] { use(PresetKind::lens); }, When::open);
    actions.add(
        menu, tr("Keep this &finish…"), {}, [this] { keep(PresetKind::finish); }, When::open);
    actions.add(
        menu, tr("Use a kept f&inish…"), {}, [this] { use(PresetKind::finish); }, When::open);
}

void PresetsController::keep(project::PresetKind kind)
{
    QString file = QFileDialog::getSaveFileName(
        &m_bench.window,
        kind == project::PresetKind::lens ? tr("Keep the lens and its iris") : tr("Keep the finish"),
        presetFolder(), filterOf(kind));
    if (file.isEmpty()) return;
    if (!file.endsWith(endingOf(kind))) file += endingOf(kind);
    try {
        project::savePreset(file.toStdString(), kind, m_bench.document.values());
        m_bench.message->show(MessageBar::Kind::notice,
                              tr("Kept as %1.").arg(QDir::toNativeSeparators(file)));
    } catch (...) {
        m_bench.tellFailure(tr("Keeping it"));
    }
}

void PresetsController::use(project::PresetKind kind)
{
    const QString file = QFileDialog::getOpenFileName(
        &m_bench.window, kind == project::PresetKind::lens ? tr("Use a lens kit") : tr("Use a kept finish"),
        presetFolder(), filterOf(kind));
    if (file.isEmpty()) return;
    try {
        project::Settings settings = m_bench.document.values();
        project::loadPreset(file.toStdString(), kind, settings);
        m_bench.document.editSettings(kind == project::PresetKind::lens ? tr("use lens kit")
                                                                        : tr("use kept finish"),
                                      [&](project::Settings& present) { present = settings; });
    } catch (...) {
        m_bench.tellFailure(tr("Using it"));
    }
}

} // namespace retinex::app
