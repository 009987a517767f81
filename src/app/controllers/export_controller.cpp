#include "app/controllers/export_controller.h"

#include "core/delivery/file_name.h"
#include "core/delivery/target_check.h"

#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QMenu>
#include <QMessageBox>
#include <algorithm>

namespace retinex::app {

ExportController::ExportController(Workbench& bench, FilesController& files)
    : QObject(&bench.window), m_bench(bench), m_files(files)
{
    connect(m_bench.sheet, &Sheet::exportFrameAsked, this, &ExportController::exportFrame);
    connect(m_bench.sheet, &Sheet::exportSequenceAsked, this, &ExportController::exportSequence);
    connect(m_bench.exportBar, &ExportBar::ended, this, &ExportController::ended);
    connect(m_bench.exportBar, &ExportBar::frameFailed, this, [this](int, const QString& message) {
        m_bench.message->show(MessageBar::Kind::trouble, message);
    });
}

void ExportController::addActions(QMenu& menu)
{
    m_bench.actions.add(
        menu, tr("&Export this frame…"), QKeySequence(tr("Ctrl+E")), [this] { exportFrame(); }, When::open);
    m_bench.actions.add(
        menu, tr("Export the se&quence…"), QKeySequence(tr("Ctrl+Shift+E")), [this] { exportSequence(); },
        When::sequence);
}

void ExportController::exportFrame()
{
    if (!m_bench.document.isOpen()) return;
    const QString name =
        QStringLiteral("%1/%2_focus.%3.exr")
            .arg(m_files.startFolder(),
                 QFileInfo(m_bench.document.title()).completeBaseName().section(QLatin1Char('.'), 0, 0))
            .arg(m_bench.document.frame(), 4, 10, QLatin1Char('0'));
    struct Kind
    {
        QString filter;
        project::FileKind file;
        std::optional<project::Samples> samples; ///< where a name's ending does not tell
    };
    using project::FileKind;
    const std::vector<Kind> kinds{{tr("Pictures (*.exr *.png *.tif *.tiff *.jpg *.jpeg)"), FileKind::exr, {}},
                                  {tr("OpenEXR (*.exr)"), FileKind::exr, {}},
                                  {tr("PNG, 8 bits (*.png)"), FileKind::png, {}},
                                  {tr("PNG, 16 bits (*.png)"), FileKind::png, project::Samples::bits16},
                                  {tr("TIFF, 16 bits (*.tif *.tiff)"), FileKind::tiff, {}},
                                  {tr("JPEG (*.jpg *.jpeg)"), FileKind::jpeg, {}}};
    QStringList filters;
    for (const Kind& kind : kinds)
        filters << kind.filter;
    QString filter;
    const QString file = QFileDialog::getSaveFileName(&m_bench.window, tr("Export this frame"), name,
                                                      filters.join(QStringLiteral(";;")), &filter);
    if (file.isEmpty()) return;
    const auto found = std::ranges::find(kinds, filter, &Kind::filter);
    const Kind& chosen = found == kinds.end() ? kinds.front() : *found;
    try {
        std::string target = file.toStdString();
        if (!delivery::pictureKindOf(target)) target += delivery::endingOf(chosen.file);
        // The file dialog has asked whether a file that is there is to be replaced.
        auto job = delivery::usualJob(*m_bench.document.source(),
                                      std::make_shared<project::Project>(m_bench.document.project()),
                                      {m_bench.document.frame()}, target, delivery::Existing::overwrite);
        job.isNoted = false; // one picture, wherever it goes
        if (chosen.samples && job.delivery.file == chosen.file) job.delivery.samples = *chosen.samples;
        start(std::move(job));
    } catch (...) {
        m_bench.tellFailure(tr("Exporting"));
    }
}

void ExportController::exportSequence()
{
    if (!m_bench.document.isOpen() || !m_bench.document.isSequence()) return;
    const QString folder = QFileDialog::getExistingDirectory(
        &m_bench.window, tr("Folder for the exported sequence"), m_files.startFolder());
    if (folder.isEmpty()) return;
    const auto& project = m_bench.document.project();
    std::vector<int> frames;
    for (int frame = project.firstFrame; frame <= project.lastFrame; ++frame)
        frames.push_back(frame);
    const QString base =
        QFileInfo(m_bench.document.title()).completeBaseName().section(QLatin1Char('.'), 0, 0);
    auto job = delivery::usualJob(
        *m_bench.document.source(), std::make_shared<project::Project>(project), std::move(frames),
        QDir(folder).filePath(base + QStringLiteral("_focus.####.exr")).toStdString());
    const auto existing = askForExisting(job);
    if (!existing) return;
    job.existing = *existing;
    start(std::move(job));
}

std::optional<delivery::Existing> ExportController::askForExisting(const delivery::DeliveryJob& job)
{
    const std::vector<int> there = delivery::existingFrames(job);
    if (there.empty()) return delivery::Existing::refuse;
    const bool all = there.size() == delivery::framesOf(job).size();
    QMessageBox ask(QMessageBox::Question, tr("Frames are there already"),
                    tr("Frames %1 are there already in %2.")
                        .arg(QString::fromStdString(passes::describeFrames(there)),
                             QString::fromStdString(job.target.parent_path().string())),
                    QMessageBox::NoButton, &m_bench.window);
    ask.setObjectName(QStringLiteral("framesAreThere"));
    QAbstractButton* over = ask.addButton(tr("Write over them"), QMessageBox::DestructiveRole);
    QAbstractButton* missing = ask.addButton(tr("Only those that are missing"), QMessageBox::AcceptRole);
    missing->setEnabled(!all);
    ask.setDefaultButton(ask.addButton(QMessageBox::Cancel));
    ask.exec();
    if (ask.clickedButton() == over) return delivery::Existing::overwrite;
    if (ask.clickedButton() == missing) return delivery::Existing::keep;
    return std::nullopt;
}

void ExportController::start(delivery::DeliveryJob job)
{
    if (isRunning()) {
        m_bench.message->show(MessageBar::Kind::notice,
                              tr("An export is running. Wait for its end, or cancel it."));
        return;
    }
    m_bench.message->hide();
    m_last = job;
    m_bench.exportBar->start(std::make_unique<ExportWork>(m_bench.document.source(), std::move(job)));
    emit machineNeeded();
}

void ExportController::ended(const QString& summary, const QString& trouble, bool isIncomplete)
{
    const auto kind = trouble.isEmpty() ? MessageBar::Kind::notice : MessageBar::Kind::trouble;
    const QString text = trouble.isEmpty() ? summary : trouble;
    if (!isIncomplete || !m_last || delivery::framesOf(*m_last).size() < 2) {
        m_bench.message->show(kind, text);
        return;
    }
    m_bench.message->show(kind, text, tr("Do the missing ones"), [this] {
        delivery::DeliveryJob again = *m_last;
        again.project = std::make_shared<project::Project>(m_bench.document.project());
        again.existing = delivery::Existing::keep;
        start(std::move(again));
    });
}

bool ExportController::mayStop()
{
    if (!isRunning()) return true;
    QMessageBox ask(QMessageBox::Question, tr("An export is running"),
                    tr("Frames that are written are whole and stay. The others will be missing."),
                    QMessageBox::NoButton, &m_bench.window);
    ask.setObjectName(QStringLiteral("exportIsRunning"));
    QAbstractButton* stop = ask.addButton(tr("Stop it and close"), QMessageBox::DestructiveRole);
    ask.setDefaultButton(ask.addButton(tr("Let it go on"), QMessageBox::RejectRole));
    ask.exec();
    if (ask.clickedButton() != stop && isRunning()) return false;
    m_bench.exportBar->cancel();
    return true;
}

} // namespace retinex::app
