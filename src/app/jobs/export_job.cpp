#include "app/jobs/export_job.h"

#include "core/frame/places/subject_measure.h"

namespace retinex::app {

ExportWork::ExportWork(std::shared_ptr<const passes::PassSource> source, delivery::DeliveryJob job,
                       QObject* parent)
    : QObject(parent), m_source(std::move(source)), m_job(std::move(job))
{
}

void ExportWork::start()
{
    m_clock.start();
    // Subjects that focus rides on are measured as they are now; what the window has of them may be older.
    const auto work = [this, source = m_source, job = m_job](const Background::Task& task) {
        delivery::DeliveryJob measured = job;
        project::Project project = *job.project;
        frame::measureSubjects(project, *source, true, {0, {}, task.stop()});
        measured.project = std::make_shared<const project::Project>(std::move(project));
        int lastPermille = -1;
        Run run;
        run.stop = task.stop();
        run.progress = [this, &task, &lastPermille](double share) {
            const int permille = static_cast<int>(1000.0 * share);
            if (permille == lastPermille) return;
            lastPermille = permille;
            task.post([this, share] { emit progressed(share); });
        };
        (void)delivery::deliver(*source, measured, run,
                                [this, &task](int frame, const auto&, const std::string& failure) {
                                    task.post([this, frame, failure = QString::fromStdString(failure)] {
                                        if (failure.isEmpty()) {
                                            ++m_written;
                                        } else {
                                            m_failures.push_back(failure);
                                            emit frameFailed(frame, failure);
                                        }
                                    });
                                });
        task.post([this] { emit finished(false, m_written, m_failures); });
    };
    m_work.start(tr("Exporting"), work,
                 {[this](const QString& message) {
                      m_failures.push_back(message);
                      emit finished(false, m_written, m_failures);
                  },
                  [this] { emit finished(true, m_written, m_failures); }});
}

void ExportWork::cancel()
{
    m_work.requestStop();
}

double ExportWork::secondsLeft(double share) const
{
    if (share < 0.02) return -1.0;
    return static_cast<double>(m_clock.elapsed()) / 1000.0 * (1.0 - share) / share;
}

} // namespace retinex::app
