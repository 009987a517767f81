#include "app/controllers/delivery_controller.h"

#include "app/delivery/queue_dialog.h"
#include "app/dialogs/farm_dialog.h"
#include "core/passes/sequence.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QMenu>
#include <QStandardPaths>
#include <QTimer>

namespace retinex::app {

namespace {

QString queueFolder()
{
    return QStandardPaths::writableLocation(QStandardPaths::GenericCacheLocation) +
           QStringLiteral("/retinex/queue");
}

/// The command-line program, beside this one.
std::string commandLine()
{
    return QDir(QCoreApplication::applicationDirPath()).filePath(QStringLiteral("retinex-cli")).toStdString();
}

} // namespace

DeliveryController::DeliveryController(Workbench& bench, FilesController& files)
    : QObject(&bench.window), m_bench(bench), m_files(files), m_queue(queueFolder())
{
    DeliveryPanel& panel = m_bench.sheet->delivery();
    connect(&panel, &DeliveryPanel::deliverAsked, this, &DeliveryController::deliver);
    connect(&panel, &DeliveryPanel::queueAsked, this, &DeliveryController::showQueue);
    connect(&panel, &DeliveryPanel::folderAsked, this, &DeliveryController::chooseFolder);
    connect(&m_farm, &FarmWork::told, this,
            [this](const QString& words) { m_bench.message->show(MessageBar::Kind::notice, words); });
    connect(&m_farm, &FarmWork::failed, this,
            [this](const QString& message) { m_bench.message->show(MessageBar::Kind::trouble, message); });
    connect(&m_farm, &FarmWork::ended, this, &DeliveryController::farmEnded);
    connect(&m_queue, &DeliveryQueue::emptied, this, [this](int count, int failed) {
        const QString words = failed == 0
                                  ? tr("%n delivery(ies) are done.", nullptr, count)
                                  : tr("%n delivery(ies) ended, and %1 failed.", nullptr, count).arg(failed);
        m_bench.message->show(failed == 0 ? MessageBar::Kind::notice : MessageBar::Kind::trouble, words,
                              tr("Queue…"), [this] { showQueue(); });
    });
    // Once the window is there to say it.
    QTimer::singleShot(0, this, [this] {
        if (!m_queue.isPaused()) return;
        m_bench.message->show(MessageBar::Kind::notice,
                              tr("%n delivery(ies) wait from last time.", nullptr, m_queue.waiting()),
                              tr("Queue…"), [this] { showQueue(); });
    });
}

void DeliveryController::addActions(QMenu& menu)
{
    m_bench.actions.add(
        menu, tr("&Deliver"), QKeySequence(tr("Ctrl+D")), [this] { deliver(false); }, When::open);
    m_bench.actions.add(menu, tr("De&livery queue…"), QKeySequence(tr("Ctrl+Shift+D")),
                        [this] { showQueue(); });
    m_bench.actions.add(
        menu, tr("To the far&m…"), {}, [this] { toTheFarm(); }, When::open);
}

void DeliveryController::toTheFarm()
{
    const project::Project& project = m_bench.document.project();
    if (project.deliveries.empty() || m_bench.document.file().isEmpty() || m_bench.document.isModified()) {
        m_bench.message->show(MessageBar::Kind::notice,
                              project.deliveries.empty()
                                  ? tr("There is nothing to deliver. Add a delivery in Delivery.")
                                  : tr("The farm reads the project from its file: save it first."));
        return;
    }
    if (m_farm.isBusy()) {
        m_bench.message->show(MessageBar::Kind::notice,
                              tr("A delivery is on the farm already. Wait for its end."));
        return;
    }
    QStringList names;
    for (const project::Delivery& delivery : project.deliveries)
        names << QString::fromStdString(delivery.name);
    const project::Delivery* chosen = m_bench.sheet->delivery().chosen();
    FarmDialog dialog(names, chosen ? QString::fromStdString(chosen->name) : QString(), &m_bench.window);
    if (dialog.exec() != QDialog::Accepted) return;
    delivery::FarmJob job;
    job.delivery.project = std::make_shared<project::Project>(project);
    job.delivery.projectFile = m_bench.document.file().toStdString();
    for (const project::Delivery& delivery : project.deliveries)
        if (delivery.name == dialog.delivery().toStdString()) job.delivery.delivery = delivery;
    job.chunk = dialog.chunk();
    job.partition = dialog.partition().toStdString();
    job.program = commandLine();
    m_lastFarm = job;
    m_farm.start(job);
}

void DeliveryController::farmEnded(const std::vector<int>& missing, const QString& logs)
{
    if (missing.empty()) {
        m_bench.message->show(MessageBar::Kind::notice, tr("The farm is done: all frames are there."));
        return;
    }
    m_bench.message->show(
        MessageBar::Kind::trouble,
        tr("The farm is done, and frames %1 are missing. The logs in %2 say why.")
            .arg(QString::fromStdString(passes::describeFrames(missing)), QDir::toNativeSeparators(logs)),
        tr("Again"), [this, missing] {
            if (!m_lastFarm || m_farm.isBusy()) return;
            m_lastFarm->delivery.frames = missing;
            m_farm.start(*m_lastFarm);
        });
}

void DeliveryController::showQueue()
{
    if (!m_dialog) {
        m_dialog = new QueueDialog(m_queue, &m_bench.window);
        m_dialog->setAttribute(Qt::WA_DeleteOnClose);
    }
    m_dialog->show();
    m_dialog->raise();
}

void DeliveryController::deliver(bool onlyChosen)
{
    const project::Project& project = m_bench.document.project();
    const auto shared = std::make_shared<project::Project>(project);
    const project::Delivery* chosen = m_bench.sheet->delivery().chosen();
    std::vector<delivery::DeliveryJob> jobs;
    for (const project::Delivery& delivery : project.deliveries)
        if (onlyChosen ? chosen && delivery.id == chosen->id : delivery.isOn)
            jobs.push_back({shared, m_bench.document.file().toStdString(), delivery, {}});
    if (const QString shares = m_queue.sharedTarget(jobs); !shares.isEmpty()) {
        m_bench.message->show(MessageBar::Kind::trouble, shares);
        return;
    }
    for (delivery::DeliveryJob& job : jobs)
        m_queue.add(std::move(job));
    if (jobs.empty()) {
        m_bench.message->show(MessageBar::Kind::notice,
                              tr("There is nothing to deliver. Add a delivery in Delivery."));
        return;
    }
    showQueue();
}

void DeliveryController::chooseFolder()
{
    const project::Delivery* delivery = m_bench.sheet->delivery().chosen();
    if (!delivery) return;
    const QString folder = QFileDialog::getExistingDirectory(&m_bench.window, tr("Folder of the delivery"),
                                                             m_files.startFolder());
    if (folder.isEmpty()) return;
    // Beside or below the project it moves with it.
    QString kept = folder;
    if (!m_bench.document.file().isEmpty()) {
        const QString relative = QFileInfo(m_bench.document.file()).absoluteDir().relativeFilePath(folder);
        if (!relative.startsWith(QLatin1String("../../"))) kept = relative;
    }
    project::Project changed = m_bench.document.project();
    for (project::Delivery& each : changed.deliveries)
        if (each.id == delivery->id) each.folder = kept.toStdString();
    m_bench.document.edit(tr("folder of delivery"), changed);
}

} // namespace retinex::app
