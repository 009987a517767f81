#include "app/jobs/depth_survey.h"

#include "core/base/error.h"

#include <algorithm>
#include <cmath>

namespace retinex::app {

double DepthSurvey::binPosition(double distance)
{
    const double first = std::log(nearest);
    return (std::log(distance) - first) / ((std::log(farthest) - first) / binCount);
}

DepthSurvey::~DepthSurvey()
{
    stop();
}

void DepthSurvey::stop()
{
    m_stop.request_stop();
    if (m_thread.joinable()) m_thread.join();
}

void DepthSurvey::start(std::shared_ptr<const passes::PassSource> source,
                        const depth::ReadingSettings& reading, int firstFrame, int lastFrame)
{
    stop();
    m_columns.clear();
    m_range = {};
    m_stop = std::stop_source();
    const quint64 round = ++m_round;
    emit changed();
    m_thread = std::thread([this, source = std::move(source), reading, firstFrame, lastFrame, round,
                            token = m_stop.get_token()] {
        for (int frame = firstFrame; frame <= lastFrame && !token.stop_requested(); ++frame) {
            try {
                const auto depth = source->loadDistance(frame, reading);
                const DepthColumn column{depth::depthRange(depth.distance, depth.gaps),
                                         depth::logHistogram(depth.distance, nearest, farthest, binCount)};
                QMetaObject::invokeMethod(this, [this, frame, column, round] {
                    if (round == m_round) add(frame, column);
                });
            } catch (const Error&) {
                // The frame is missing or damaged: the picture says so when it is shown, the desk leaves
                // it out.
            }
        }
    });
}

void DepthSurvey::add(int frame, const DepthColumn& column)
{
    m_columns[frame] = column;
    if (column.range.hasSurface()) {
        const bool first = !m_range.hasSurface();
        m_range.nearest = first ? column.range.nearest : std::min(m_range.nearest, column.range.nearest);
        m_range.farthest = std::max(m_range.farthest, column.range.farthest);
    }
    m_range.gapCount += column.range.gapCount;
    m_range.pixelCount += column.range.pixelCount;
    emit changed();
}

} // namespace retinex::app
