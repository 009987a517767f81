#include "app/jobs/cut_finder.h"

#include "core/base/error.h"
#include "core/timeline/cut_detection.h"

#include <algorithm>
#include <chrono>

namespace retinex::app {

CutFinder::~CutFinder()
{
    cancel();
    if (m_thread.joinable()) m_thread.join();
}

void CutFinder::start(std::shared_ptr<const passes::PassSource> source, const project::Project& project)
{
    if (m_busy) return;
    if (m_thread.joinable()) m_thread.join();
    m_busy = true;
    m_stop = std::stop_source();
    m_thread = std::thread([this, source = std::move(source), project, stop = m_stop.get_token()] {
        std::vector<std::optional<timeline::FrameSketch>> sketches;
        const int total = project.lastFrame - project.firstFrame + 1;
        auto told = std::chrono::steady_clock::now();
        for (int frame = project.firstFrame; frame <= project.lastFrame && !stop.stop_requested(); ++frame) {
            try {
                sketches.emplace_back(timeline::sketchOf(source->loadRaw(frame)->colour));
            } catch (const Error&) {
                sketches.emplace_back(); // missing or damaged: between its neighbours
            }
            if (std::chrono::steady_clock::now() - told < std::chrono::milliseconds(150)) continue;
            told = std::chrono::steady_clock::now();
            QMetaObject::invokeMethod(this, [this, done = static_cast<int>(sketches.size()), total] {
                emit progressed(done, total);
            });
        }
        std::vector<int> cuts = timeline::proposedCuts(sketches, project.firstFrame);
        std::erase_if(cuts, [&](int cut) { return project.framesOf(project.shotIndexAt(cut)).first == cut; });
        QMetaObject::invokeMethod(this, [this, cuts = std::move(cuts), stopped = stop.stop_requested()] {
            m_busy = false;
            if (stopped)
                emit cancelled();
            else
                emit found(cuts);
        });
    });
}

} // namespace retinex::app
