#include "app/jobs/analysis_service.h"

namespace retinex::app {

void AnalysisService::set(std::shared_ptr<const passes::PassAnalysis> analysis)
{
    m_analysis = std::move(analysis);
    m_work.drop();
    emit changed();
}

void AnalysisService::start(std::shared_ptr<const passes::PassSource> source, int frame,
                            const depth::ReadingSettings& reading)
{
    const auto work = [this, source = std::move(source), frame, reading](const Background::Task& task) {
        auto found = std::make_shared<const passes::PassAnalysis>(
            passes::analysePasses(*source, frame, reading, task.stop()));
        task.post([this, found] { m_analysis = found; });
    };
    // Why a frame cannot be read the picture says.
    m_work.start(tr("Looking at the passes"), work, {[](const QString&) {}});
}

void AnalysisService::startViews(std::shared_ptr<const passes::PassSource> source,
                                 std::shared_ptr<const project::Project> project, int frame)
{
    if (source != m_viewsSource) m_views.reset(); // else it stands until there is another
    m_viewsSource = source;
    const auto work = [this, source = std::move(source), project = std::move(project),
                       frame](const Background::Task& task) {
        const auto report = frame::reportOthers(*source, *project, frame, {0, {}, task.stop()});
        task.post([this, report, frame] {
            m_views = report;
            m_viewedFrame = frame;
            emit viewsChanged();
        });
    };
    // Without a report nothing is said of them.
    m_viewsWork.start(tr("Looking at other frames"), work, {[](const QString&) {}});
}

std::vector<passes::Finding> AnalysisService::findings() const
{
    std::vector<passes::Finding> all;
    if (m_analysis) all = m_analysis->findings;
    if (!m_views) return all;
    const auto more = frame::othersFindings(*m_views, m_viewedFrame);
    all.insert(all.end(), more.begin(), more.end());
    return all;
}

} // namespace retinex::app
