#include "app/jobs/subject_service.h"

#include "core/frame/depends_on.h"
#include "core/frame/places/subject_measure.h"
#include "core/system/error.h"

#include <algorithm>

namespace retinex::app {

void SubjectService::update(Source source, Snapshot project)
{
    // Fingerprints of long tracks take time: none are needed while nothing changes that they are made of.
    const bool alike =
        m_checked && m_checkedSource == source && m_checked->subjects == project->subjects &&
        m_checked->scene == project->scene && m_checked->readsDepthLike(*project) &&
        std::equal(m_checked->shots.begin(), m_checked->shots.end(), project->shots.begin(),
                   project->shots.end(), [](const auto& a, const auto& b) { return a.camera == b.camera; });
    if (alike) return;
    const bool isSameSource = m_checkedSource == source;
    m_checked = project;
    m_checkedSource = source;
    std::vector<std::string> needed;
    for (const timeline::Subject& subject : project->subjects) {
        std::string key = frame::subjectFingerprint(*project, subject, *source);
        if (subject.measuredAs != key && std::find(m_failed.begin(), m_failed.end(), key) == m_failed.end())
            needed.push_back(std::move(key));
    }
    if (needed.empty() && !isMeasuring()) return;
    // One that has been measured must not make the others begin anew.
    const bool areUnderWay = std::all_of(needed.begin(), needed.end(), [this](const std::string& key) {
        return std::find(m_underWay.begin(), m_underWay.end(), key) != m_underWay.end();
    });
    if (!needed.empty() && isMeasuring() && isSameSource && areUnderWay) return;
    m_underWay = std::move(needed);
    m_measuring.start(tr("Measuring subjects"),
                      [this, source = std::move(source), project = std::move(project)](
                          const Background::Task& task) { measure(source, project, task); },
                      {[this](const QString& message) { emit measureFailed(message); }});
}

void SubjectService::drop()
{
    m_measuring.drop();
    m_following.drop();
    m_checked.reset();
    m_checkedSource.reset();
    m_underWay.clear();
}

/// On the work's thread: of this object only what is posted is touched.
void SubjectService::measure(const Source& source, const Snapshot& project, const Background::Task& task)
{
    // Each on its own: one that cannot be measured must not hold up the others.
    for (const timeline::Subject& subject : project->subjects) {
        const std::string key = frame::subjectFingerprint(*project, subject, *source);
        if (key == subject.measuredAs) continue;
        project::Project alone = *project;
        alone.subjects = {subject};
        try {
            frame::measureSubjects(alone, *source, false, {1, {}, task.stop()});
            task.post([this, name = subject.name, samples = alone.subjects.front().samples, key] {
                emit measured(name, samples, key);
            });
        } catch (const Error& error) {
            task.post([this, key, words = QString::fromStdString(error.what())] {
                if (std::find(m_failed.begin(), m_failed.end(), key) != m_failed.end()) return;
                m_failed.push_back(key);
                emit measureFailed(words);
            });
        }
    }
}

bool SubjectService::track(Source source, Snapshot project, const std::string& subject, int frame, bool back)
{
    const timeline::Subject* found = project->subjectNamed(subject);
    if (isTracking() || !found) return false;
    const timeline::FrameRange shot = project->framesOf(project->shotIndexAt(frame));
    const auto place = placeAt(*found, frame, shot);
    if (!place) return false;
    timeline::Place start = *place;
    start.frame = frame;
    const int last = back ? shot.first : shot.last;
    tracking::TrackSettings settings;
    settings.patchPx = std::clamp(1.5 * found->radiusPx, 8.0, 40.0);
    const timeline::FrameRange range{std::min(start.frame, last), std::max(start.frame, last)};
    const auto work = [this, source = std::move(source), subject, start, last, range,
                       settings](const Background::Task& task) {
        auto way = tracking::trackPoint(
            [&](int at) {
                task.post([this, at, last] { emit trackProgress(at, last); });
                return tracking::trackingPicture(source->loadRaw(at)->colour());
            },
            start, last, settings, {1, {}, task.stop()});
        task.post([this, subject, range, way = std::move(way)] { emit tracked(subject, range, way); });
    };
    m_following.start(tr("Tracking"), work,
                      {[this](const QString& message) { emit trackFailed(message); },
                       [this] { emit trackFailed(tr("Tracking was cancelled.")); }});
    return true;
}

} // namespace retinex::app
