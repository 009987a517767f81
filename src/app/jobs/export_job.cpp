#include "app/jobs/export_job.h"

#include "core/base/error.h"

#include <QStringList>

namespace retinex::app {

ExportWork::ExportWork(std::shared_ptr<const passes::PassSource> source, delivery::ExportJob job,
                       QObject* parent)
    : QObject(parent), m_source(std::move(source)), m_job(std::move(job))
{
}

ExportWork::~ExportWork()
{
    m_stop.request_stop();
    if (m_thread.joinable()) m_thread.join();
}

void ExportWork::start()
{
    m_clock.start();
    m_thread = std::thread([this] { run(); });
}

void ExportWork::cancel()
{
    m_stop.request_stop();
}

double ExportWork::secondsLeft(double share) const
{
    if (share < 0.02) return -1.0;
    return static_cast<double>(m_clock.elapsed()) / 1000.0 * (1.0 - share) / share;
}

void ExportWork::run()
{
    QStringList failures;
    int written = 0;
    bool cancelled = false;
    int lastPermille = -1;
    Run run;
    run.stop = m_stop.get_token();
    run.progress = [this, &lastPermille](double share) {
        const int permille = static_cast<int>(1000.0 * share);
        if (permille == lastPermille) return;
        lastPermille = permille;
        QMetaObject::invokeMethod(this, [this, share] { emit progressed(share); });
    };
    try {
        (void)delivery::exportFrames(*m_source, m_job, run,
                                     [&](int, const auto&, const std::string& failure) {
                                         if (failure.empty())
                                             ++written;
                                         else
                                             failures.push_back(QString::fromStdString(failure));
                                     });
    } catch (const Cancelled&) {
        cancelled = true;
    } catch (const Error& error) {
        failures.push_back(QString::fromStdString(error.what()));
    }
    QMetaObject::invokeMethod(this, [=, this] { emit finished(cancelled, written, failures); });
}

} // namespace retinex::app
