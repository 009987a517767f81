#pragma once

#include "core/passes/pass_check.h"

#include <QObject>
#include <memory>
#include <stop_token>
#include <thread>

namespace retinex::app {

/// Looks at the passes of a frame in the background: statistics, the proposed reading, findings. The newest
/// request wins.
class AnalysisService : public QObject
{
    Q_OBJECT

public:
    explicit AnalysisService(QObject* parent = nullptr) : QObject(parent) {}
    ~AnalysisService() override;

    void start(std::shared_ptr<const passes::PassSource> source, int frame,
               const depth::ReadingSettings& reading);
    /// Takes over what is known already, as after opening.
    void set(std::shared_ptr<const passes::PassAnalysis> analysis);
    /// Null before anything was looked at.
    [[nodiscard]] const std::shared_ptr<const passes::PassAnalysis>& analysis() const noexcept
    {
        return m_analysis;
    }
    [[nodiscard]] bool isBusy() const noexcept { return m_busy; }

signals:
    void changed();

private:
    void stop();

    std::shared_ptr<const passes::PassAnalysis> m_analysis;
    std::stop_source m_stop;
    std::thread m_thread;
    quint64 m_round = 0;
    bool m_busy = false;
};

} // namespace retinex::app
