#pragma once

#include "app/controllers/files_controller.h"
#include "app/delivery/delivery_queue.h"
#include "app/delivery/farm_work.h"

#include <QPointer>

namespace retinex::app {

class QueueDialog;

/// Deliveries in the window: they go to the queue, which has a window of its own and a line beside the probe.
class DeliveryController : public QObject
{
    Q_OBJECT

public:
    DeliveryController(Workbench& bench, FilesController& files);

    void addActions(QMenu& menu);
    [[nodiscard]] DeliveryQueue& queue() noexcept { return m_queue; }
    void showQueue();

private:
    void deliver(bool onlyChosen);
    void chooseFolder();
    void toTheFarm();
    void farmEnded(const std::vector<int>& missing, const QString& logs);

    Workbench& m_bench;
    FilesController& m_files;
    DeliveryQueue m_queue;
    FarmWork m_farm;
    std::optional<delivery::FarmJob> m_lastFarm; ///< for those that are missing
    QPointer<QueueDialog> m_dialog;
};

} // namespace retinex::app
