#include "app/jobs/cut_finder.h"

#include "core/system/error.h"
#include "core/timeline/cut_detection.h"

#include <algorithm>
#include <chrono>

namespace retinex::app {

void CutFinder::start(std::shared_ptr<const passes::PassSource> source, const project::Project& project)
{
    if (isBusy()) return;
    const auto work = [this, source = std::move(source), project](const Background::Task& task) {
        std::vector<std::optional<timeline::FrameSketch>> sketches;
        const int total = project.lastFrame - project.firstFrame + 1;
        auto told = std::chrono::steady_clock::now();
        for (int frame = project.firstFrame; frame <= project.lastFrame; ++frame) {
            throwIfStopped(task.stop());
            try {
                sketches.emplace_back(timeline::sketchOf(source->loadRaw(frame)->colour()));
            } catch (const Error&) {
                sketches.emplace_back(); // missing or damaged: between its neighbours
            }
            if (std::chrono::steady_clock::now() - told < std::chrono::milliseconds(150)) continue;
            told = std::chrono::steady_clock::now();
            task.post(
                [this, done = static_cast<int>(sketches.size()), total] { emit progressed(done, total); });
        }
        std::vector<int> cuts = timeline::proposedCuts(sketches, project.firstFrame);
        std::erase_if(cuts, [&](int cut) { return project.framesOf(project.shotIndexAt(cut)).first == cut; });
        task.post([this, cuts = std::move(cuts)] { emit found(cuts); });
    };
    m_work.start(tr("Looking for cuts"), work,
                 {[this](const QString& message) { emit failed(message); }, [this] { emit cancelled(); }});
}

} // namespace retinex::app
