#pragma once

#include "app/controllers/workbench.h"

#include <filesystem>

namespace retinex::app {

/// Subjects: placing, measuring, tracking, and focus that rides on them.
class SubjectsController : public QObject
{
    Q_OBJECT

public:
    explicit SubjectsController(Workbench& bench);

    /// A scene is read, or more subjects are to be tracked.
    [[nodiscard]] bool isBusy() const noexcept { return m_reading.isBusy() || !m_toTrack.empty(); }

signals:
    void machineNeeded();

private:
    void update();
    void track(bool back);
    void trackNext();
    void showTracked(const std::string& name, const timeline::FrameRange& range,
                     const tracking::Track& track);
    void rideOnSubject();
    void addScenePoint();

    Workbench& m_bench;
    std::filesystem::path m_sceneFile;                ///< that the picture shows points of
    std::shared_ptr<const passes::SceneFile> m_scene; ///< null while it is read, and where it cannot be
    Background m_reading;
    std::vector<std::string> m_toTrack; ///< those still to come, the last one first
    bool m_tracksBack = false;
    int m_trackedFrom = 1;
};

} // namespace retinex::app
