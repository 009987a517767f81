#pragma once

#include "app/delivery/delivery_queue.h"

#include <QDialog>
#include <QLabel>
#include <QPushButton>
#include <QTreeWidget>

namespace retinex::app {

/// The queue: what runs and waits, how long it will take, what failed. It may be closed; the work goes on.
class QueueDialog : public QDialog
{
    Q_OBJECT

public:
    explicit QueueDialog(DeliveryQueue& queue, QWidget* parent = nullptr);

private:
    void refresh();
    void showDetails();
    [[nodiscard]] const DeliveryQueue::Entry* chosen() const;

    DeliveryQueue& m_queue;
    QTreeWidget* m_list;
    QLabel* m_picture;
    QLabel* m_details;
    QPushButton* m_pause;
    QPushButton* m_cancel;
    QPushButton* m_retry;
    QPushButton* m_remove;
    QPushButton* m_up;
    QPushButton* m_down;
    QString m_shownFile;
    Background m_work;
};

} // namespace retinex::app
