#pragma once

#include "app/jobs/background.h"
#include "core/frame/others/other_frames.h"
#include "core/passes/pass_check.h"

#include <QObject>
#include <memory>

namespace retinex::app {

/// Looks at the passes of a frame in the background: statistics, the proposed reading, findings, and what
/// other frames show. The newest request wins.
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

    /// What other frames show of a frame, apart: it takes longer.
    void startViews(std::shared_ptr<const passes::PassSource> source,
                    std::shared_ptr<const project::Project> project, int frame);
    /// Nothing before they were looked at.
    [[nodiscard]] const std::optional<frame::OthersReport>& views() const noexcept { return m_views; }
    /// Of the analysis and of the views.
    [[nodiscard]] std::vector<passes::Finding> findings() const;

signals:
    void changed();
    void viewsChanged();

private:
    std::shared_ptr<const passes::PassAnalysis> m_analysis;
    std::optional<frame::OthersReport> m_views;
    std::shared_ptr<const passes::PassSource> m_viewsSource;
    int m_viewedFrame = 1;
    Background m_work;
    Background m_viewsWork;
};

} // namespace retinex::app
