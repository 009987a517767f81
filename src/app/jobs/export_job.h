#pragma once

#include "app/jobs/background.h"
#include "core/delivery/deliver.h"

#include <QElapsedTimer>
#include <QObject>
#include <QStringList>
#include <memory>

namespace retinex::app {

/// Writes frames in the background. One at a time; one that is destroyed stops, and leaves whole files.
class ExportWork : public QObject
{
    Q_OBJECT

public:
    ExportWork(std::shared_ptr<const passes::PassSource> source, delivery::DeliveryJob job,
               QObject* parent = nullptr);

    void start();
    void cancel();
    [[nodiscard]] const delivery::DeliveryJob& job() const noexcept { return m_job; }
    /// Seconds that are left, from the time so far; below 0 when unknown.
    [[nodiscard]] double secondsLeft(double share) const;

signals:
    void progressed(double share);
    void frameFailed(int frame, const QString& message);
    /// `failures` has a line for each frame that failed, and for what kept it from beginning.
    void finished(bool cancelled, int written, const QStringList& failures);

private:
    std::shared_ptr<const passes::PassSource> m_source;
    delivery::DeliveryJob m_job;
    QElapsedTimer m_clock;
    QStringList m_failures;
    int m_written = 0;
    Background m_work;
};

} // namespace retinex::app
