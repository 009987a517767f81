#pragma once

#include "app/jobs/background.h"
#include "core/passes/pass_source.h"
#include "core/project/project.h"
#include "core/tracking/point_tracker.h"
#include "core/tracking/tracking_picture.h"

#include <QObject>
#include <QString>
#include <memory>

namespace retinex::app {

/// Measures subjects' distances in the background whenever the project makes it necessary, and tracks them
/// when asked. The newest project wins.
class SubjectService : public QObject
{
    Q_OBJECT

public:
    explicit SubjectService(QObject* parent = nullptr) : QObject(parent) {}

    using Source = std::shared_ptr<const passes::PassSource>;
    using Snapshot = std::shared_ptr<const project::Project>;
    /// The project has changed: subjects whose samples are not of it are measured.
    void update(Source source, Snapshot project);
    [[nodiscard]] bool isMeasuring() const noexcept { return m_measuring.isBusy(); }

    /// Follows a subject from its place on `frame` to the last frame of the shot, or back to its first. One
    /// at a time: false while another is being tracked, and where the subject has no place.
    bool track(Source source, Snapshot project, const std::string& subject, int frame, bool back);
    void cancelTracking() { m_following.requestStop(); }
    /// Another document: nothing of the present one is heard of any more.
    void drop();
    [[nodiscard]] bool isTracking() const noexcept { return m_following.isBusy(); }

signals:
    void measured(const std::string& subject, const retinex::SharedList<retinex::timeline::Sample>& samples,
                  const std::string& measuredAs);
    void measureFailed(const QString& message);
    void trackProgress(int frame, int lastFrame);
    /// What was found; `range` is what was asked for.
    void tracked(const std::string& subject, const retinex::timeline::FrameRange& range,
                 const retinex::tracking::Track& track);
    void trackFailed(const QString& message);

private:
    void measure(const Source& source, const Snapshot& project, const Background::Task& task);

    Background m_measuring;
    Background m_following;
    std::vector<std::string> m_underWay; ///< fingerprints of what the newest request measures
    Snapshot m_checked;                  ///< the last project that was looked at
    Source m_checkedSource;
    std::vector<std::string> m_failed; ///< fingerprints that cannot be measured: not tried again
};

} // namespace retinex::app
