#pragma once

#include "core/passes/pass_source.h"
#include "core/project/project.h"

#include <QObject>
#include <memory>
#include <thread>
#include <vector>

namespace retinex::app {

/// Looks through the colour pass for cuts, in the background.
class CutFinder : public QObject
{
    Q_OBJECT

public:
    explicit CutFinder(QObject* parent = nullptr) : QObject(parent) {}
    ~CutFinder() override;

    void start(std::shared_ptr<const passes::PassSource> source, const project::Project& project);
    void cancel() { m_stop.request_stop(); }
    [[nodiscard]] bool isBusy() const noexcept { return m_busy; }

signals:
    void progressed(int done, int total);
    /// Frames that begin a shot, without those that do already.
    void found(const std::vector<int>& cuts);
    void cancelled();

private:
    std::stop_source m_stop;
    std::thread m_thread;
    bool m_busy = false;
};

} // namespace retinex::app
