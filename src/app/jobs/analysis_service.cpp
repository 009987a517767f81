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

} // namespace retinex::app
