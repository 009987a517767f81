#include "app/jobs/analysis_service.h"

#include "core/base/error.h"

namespace retinex::app {

AnalysisService::~AnalysisService()
{
    stop();
}

void AnalysisService::stop()
{
    m_stop.request_stop();
    if (m_thread.joinable()) m_thread.join();
}

void AnalysisService::set(std::shared_ptr<const passes::PassAnalysis> analysis)
{
    stop();
    ++m_round;
    m_busy = false;
    m_analysis = std::move(analysis);
    emit changed();
}

void AnalysisService::start(std::shared_ptr<const passes::PassSource> source, int frame,
                            const depth::ReadingSettings& reading)
{
    stop();
    m_stop = std::stop_source();
    m_busy = true;
    const quint64 round = ++m_round;
    m_thread =
        std::thread([this, source = std::move(source), frame, reading, round, token = m_stop.get_token()] {
            std::shared_ptr<const passes::PassAnalysis> found;
            try {
                found = std::make_shared<passes::PassAnalysis>(
                    passes::analysePasses(*source, frame, reading, token));
            } catch (const Error&) {
                // The picture says why the frame cannot be read.
            } catch (const Cancelled&) {
                return;
            }
            QMetaObject::invokeMethod(this, [this, found, round] {
                if (round != m_round) return;
                m_busy = false;
                if (found) m_analysis = found;
                emit changed();
            });
        });
}

} // namespace retinex::app
