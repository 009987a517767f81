#pragma once

#include "core/delivery/sequence_export.h"

#include <QElapsedTimer>
#include <QObject>
#include <memory>
#include <thread>

namespace retinex::app {

/// Writes frames on a thread of its own. One at a time; dropping it stops it and waits.
class ExportWork : public QObject
{
    Q_OBJECT

public:
    ExportWork(std::shared_ptr<const passes::PassSource> source, delivery::ExportJob job,
               QObject* parent = nullptr);
    ~ExportWork() override;

    void start();
    void cancel();
    [[nodiscard]] const delivery::ExportJob& job() const noexcept { return m_job; }
    /// Seconds that are left, from the time so far; below 0 when unknown.
    [[nodiscard]] double secondsLeft(double share) const;

signals:
    void progressed(double share);
    /// `failures` has a line for each frame that failed.
    void finished(bool cancelled, int written, const QStringList& failures);

private:
    void run();

    std::shared_ptr<const passes::PassSource> m_source;
    delivery::ExportJob m_job;
    std::stop_source m_stop;
    QElapsedTimer m_clock;
    std::thread m_thread;
};

} // namespace retinex::app
