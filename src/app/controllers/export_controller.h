#pragma once

#include "app/controllers/files_controller.h"

namespace retinex::app {

/// Writing frames.
class ExportController : public QObject
{
    Q_OBJECT

public:
    ExportController(Workbench& bench, FilesController& files);

    void addActions(QMenu& menu);
    [[nodiscard]] bool isRunning() const { return m_bench.exportBar->isRunning(); }
    /// False when the artist wants an export that is running to go on.
    bool mayStop();

signals:
    void machineNeeded();

private:
    void exportFrame();
    void exportSequence();
    /// Asks what becomes of frames that are there; nothing where the artist wants none of it.
    [[nodiscard]] std::optional<delivery::Existing> askForExisting(const delivery::DeliveryJob& job);
    void start(delivery::DeliveryJob job);
    void ended(const QString& summary, const QString& trouble, bool isIncomplete);

    Workbench& m_bench;
    FilesController& m_files;
    std::optional<delivery::DeliveryJob> m_last;
};

} // namespace retinex::app
