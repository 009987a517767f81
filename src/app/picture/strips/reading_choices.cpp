#include "app/picture/strips/reading_choices.h"

#include "app/picture/legends/small_zones.h"

namespace retinex::app {

void ReadingChoices::start(std::shared_ptr<const passes::PassSource> source,
                           std::shared_ptr<const project::Project> project, int frame,
                           std::vector<depth::LikelyReading> likely,
                           std::shared_ptr<const colour::ViewTransform> view)
{
    const auto work = [this, source = std::move(source), project = std::move(project), frame,
                       likely = std::move(likely), view = std::move(view)](const Background::Task& task) {
        const Run run{0, {}, task.stop()};
        const auto passes = source->load(frame, project->readingAt(frame), run);
        std::vector<ReadingChoice> choices;
        for (const depth::LikelyReading& each : likely) {
            run.throwIfStopped();
            choices.push_back({each.settings, QString::fromStdString(depth::inWords(each.settings)),
                               each.likelihood,
                               smallZones(*passes, *project, frame, each.settings, *view, run)});
        }
        task.post([this, choices = std::move(choices)] { emit ready(choices); });
    };
    // Without pictures nothing is offered: the chooser in Depth is there all the same.
    m_work.start(tr("Showing readings"), work, {[](const QString&) {}});
}

} // namespace retinex::app
