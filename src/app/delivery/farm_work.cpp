#include "app/delivery/farm_work.h"

#include "core/frame/places/subject_measure.h"

namespace retinex::app {

void FarmWork::start(const delivery::FarmJob& asked)
{
    const auto work = [this, asked](const Background::Task& task) {
        delivery::FarmJob job = asked;
        const project::Project& saved = *job.delivery.project;
        const passes::PassSource source(saved.colour, saved.depth, saved.passOptions);
        auto measured = std::make_shared<project::Project>(saved);
        frame::measureSubjects(*measured, source, true, {0, {}, task.stop()});
        job.delivery.project = measured;
        const auto scripts = delivery::writeFarmScripts(source, job);
        const auto submitted = delivery::submitToFarm(scripts, job);
        const QString logs = QString::fromStdString(scripts.folder.string());
        task.post([this, submitted, count = scripts.chunks.size()] {
            emit told(tr("On the farm: %1 chunks as %2, then %3.")
                          .arg(count)
                          .arg(QString::fromStdString(submitted.array.empty() ? "-" : submitted.array),
                               QString::fromStdString(submitted.finishing)));
        });
        const bool isEnded = delivery::waitForFarm(
            submitted,
            [this, &task](const std::string& words) {
                task.post([this, words = QString::fromStdString(words)] {
                    emit told(tr("On the farm: %1.").arg(words));
                });
            },
            task.stop());
        if (!isEnded) return;
        const std::vector<int> missing = delivery::missingFrames(source, job.delivery);
        task.post([this, missing, logs] { emit ended(missing, logs); });
    };
    m_work.start(tr("Submitting to the farm"), work,
                 {[this](const QString& message) { emit failed(message); }});
}

} // namespace retinex::app
