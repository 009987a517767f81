#include "app/jobs/depth_survey.h"

#include "core/frame/depends_on.h"
#include "core/frame/lay_in.h"
#include "core/system/error.h"

#include <algorithm>
#include <chrono>
#include <cmath>

namespace retinex::app {

namespace {

using Clock = std::chrono::steady_clock;
constexpr std::chrono::milliseconds kBatch{60}; ///< columns are handed over so often
constexpr std::chrono::seconds kSave{20};       ///< and written to disk so often

} // namespace

double DepthSurvey::binPosition(double distance)
{
    const double first = std::log(nearest);
    return (std::log(distance) - first) / ((std::log(farthest) - first) / binCount);
}

std::vector<int> spreadOrder(int first, int last)
{
    std::vector<int> order;
    for (int step = 64; step >= 1; step /= 2)
        for (int frame = first; frame <= last; frame += step)
            if (step == 64 || (frame - first) % (2 * step) != 0) order.push_back(frame);
    return order;
}

void DepthSurvey::start(std::shared_ptr<const passes::PassSource> source,
                        std::shared_ptr<const project::Project> project)
{
    m_work.drop();
    m_columns.clear();
    m_range = {};
    emit restarted();
    const auto work = [this, source = std::move(source),
                       project = std::move(project)](const Background::Task& task) {
        std::vector<std::pair<int, DepthColumn>> batch;
        const auto handOver = [&] {
            if (!batch.empty()) task.post([this, batch = std::move(batch)] { add(batch); });
            batch.clear();
        };
        SurveyStore store(*source);
        frame::FileStates files;
        auto handed = Clock::now();
        auto saved = handed;
        for (const int frame : spreadOrder(project->firstFrame, project->lastFrame)) {
            if (task.stop().stop_requested()) break;
            const std::string fingerprint =
                frame::fingerprint(*source, *project, frame, project::Stage::inserts, files);
            if (auto known = store.find(frame, fingerprint)) {
                batch.emplace_back(frame, std::move(*known));
            } else {
                try {
                    const auto depth = frame::frameDistance(*source, *project, frame, {1, {}, task.stop()});
                    DepthColumn column{depth::depthRange(depth.distance, depth.gaps),
                                       depth::logHistogram(depth.distance, nearest, farthest, binCount)};
                    store.add(frame, fingerprint, column);
                    batch.emplace_back(frame, std::move(column));
                } catch (const Error&) {
                    // The frame is missing or damaged: the picture says so when it is shown, the desk
                    // leaves it out.
                }
            }
            if (Clock::now() - saved > kSave) {
                store.save();
                saved = Clock::now();
            }
            if (Clock::now() - handed < kBatch) continue;
            handOver();
            handed = Clock::now();
        }
        store.save();
        handOver();
    };
    m_work.start(tr("Looking through the frames"), work,
                 {[this](const QString& message) { emit failed(message); }});
}

void DepthSurvey::add(const std::vector<std::pair<int, DepthColumn>>& found)
{
    std::vector<int> frames;
    for (const auto& [frame, column] : found) {
        frames.push_back(frame);
        if (column.range.hasSurface()) {
            const bool first = !m_range.hasSurface();
            m_range.nearest = first ? column.range.nearest : std::min(m_range.nearest, column.range.nearest);
            m_range.farthest = std::max(m_range.farthest, column.range.farthest);
        }
        m_range.gapCount += column.range.gapCount;
        m_range.pixelCount += column.range.pixelCount;
        m_columns[frame] = column;
    }
    emit changed(frames);
}

} // namespace retinex::app
