#pragma once

#include "app/jobs/background.h"
#include "core/passes/pass_check.h"

#include <QObject>
#include <memory>

namespace retinex::app {

/// Looks at the passes of a frame in the background: statistics, the proposed reading, findings. The newest
/// request wins.
class AnalysisService : public QObject
{
    Q_OBJECT

public:
    explicit AnalysisService(QObject* parent = nullptr) : QObject(parent)
    {
        m_work.onBusyChanged([this](bool busy) {
            if (!busy) emit changed();
        });
    }

    void start(std::shared_ptr<const passes::PassSource> source, int frame,
               const depth::ReadingSettings& reading);
    /// Takes over what is known already, as after opening.
    void set(std::shared_ptr<const passes::PassAnalysis> analysis);
    /// Null before anything was looked at.
    [[nodiscard]] const std::shared_ptr<const passes::PassAnalysis>& analysis() const noexcept
    {
        return m_analysis;
    }
    [[nodiscard]] bool isBusy() const noexcept { return m_work.isBusy(); }

signals:
    void changed();

private:
    std::shared_ptr<const passes::PassAnalysis> m_analysis;
    Background m_work;
};

} // namespace retinex::app
