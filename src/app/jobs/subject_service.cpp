#include "app/jobs/subject_service.h"

#include "core/base/error.h"
#include "core/project/fingerprint.h"
#include "core/project/subject_measure.h"

#include <algorithm>

namespace retinex::app {

SubjectService::SubjectService(QObject* parent) : QObject(parent)
{
    m_thread = std::thread([this] { work(); });
}

SubjectService::~SubjectService()
{
    {
        const std::lock_guard lock(m_mutex);
        m_ending = true;
        m_current.request_stop();
    }
    m_wake.notify_all();
    m_thread.join();
    m_trackStop.request_stop();
    if (m_tracker.joinable()) m_tracker.join();
}

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
        std::string key = project::subjectFingerprint(*project, subject, *source);
        if (subject.measuredAs != key && std::find(m_failed.begin(), m_failed.end(), key) == m_failed.end())
            needed.push_back(std::move(key));
    }
    if (needed.empty() && m_pending == 0) return;
    // One that has been measured must not make the others begin anew.
    const bool areUnderWay = std::all_of(needed.begin(), needed.end(), [this](const std::string& key) {
        return std::find(m_underWay.begin(), m_underWay.end(), key) != m_underWay.end();
    });
    if (!needed.empty() && m_pending > 0 && isSameSource && areUnderWay) return;
    m_underWay = std::move(needed);
    ++m_pending;
    {
        const std::lock_guard lock(m_mutex);
        if (m_next) --m_pending; // replaced before it was begun
        m_next = {std::move(source), std::move(project), ++m_number};
        m_current.request_stop();
    }
    m_wake.notify_all();
}

void SubjectService::work()
{
    for (;;) {
        Request request;
        std::stop_token stop;
        {
            std::unique_lock lock(m_mutex);
            m_wake.wait(lock, [this] { return m_ending || m_next; });
            if (m_ending) return;
            request = std::move(*m_next);
            m_next.reset();
            m_current = std::stop_source();
            stop = m_current.get_token();
        }
        measure(request, stop);
        QMetaObject::invokeMethod(this, [this] { --m_pending; });
    }
}

void SubjectService::measure(const Request& request, const std::stop_token& stop)
{
    // Each on its own: one that cannot be measured must not hold up the others.
    for (const timeline::Subject& subject : request.project->subjects) {
        const std::string key = project::subjectFingerprint(*request.project, subject, *request.source);
        if (key == subject.measuredAs) continue;
        project::Project alone = *request.project;
        alone.subjects = {subject};
        try {
            project::measureSubjects(alone, *request.source, false, {1, {}, stop});
            QMetaObject::invokeMethod(this,
                                      [this, name = subject.name, samples = alone.subjects.front().samples,
                                       key, number = request.number] {
                                          if (number == m_number) emit measured(name, samples, key);
                                      });
        } catch (const Cancelled&) {
            return;
        } catch (const Error& error) {
            QMetaObject::invokeMethod(this, [this, key, words = QString::fromStdString(error.what())] {
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
    if (m_tracking || !found) return false;
    const timeline::FrameRange shot = project->framesOf(project->shotIndexAt(frame));
    const auto place = placeAt(*found, frame, shot);
    if (!place) return false;
    if (m_tracker.joinable()) m_tracker.join();
    m_tracking = true;
    m_trackStop = std::stop_source();
    timeline::Place start = *place;
    start.frame = frame;
    const int last = back ? shot.first : shot.last;
    tracking::TrackSettings settings;
    settings.patchPx = std::clamp(1.5 * found->radiusPx, 8.0, 40.0);
    m_tracker = std::thread([this, source = std::move(source), project = std::move(project), subject, start,
                             last, settings, stop = m_trackStop.get_token()] {
        const timeline::FrameRange range{std::min(start.frame, last), std::max(start.frame, last)};
        try {
            auto track = tracking::trackPoint(
                [&](int at) {
                    QMetaObject::invokeMethod(this, [this, at, last] { emit trackProgress(at, last); });
                    return tracking::trackingPicture(source->loadRaw(at)->colour);
                },
                start, last, settings, {1, {}, stop});
            QMetaObject::invokeMethod(this, [this, subject, range, track = std::move(track)] {
                m_tracking = false;
                emit tracked(subject, range, track);
            });
        } catch (const Cancelled&) {
            QMetaObject::invokeMethod(this, [this] {
                m_tracking = false;
                emit trackFailed(tr("Tracking was cancelled."));
            });
        } catch (const Error& error) {
            QMetaObject::invokeMethod(this, [this, words = QString::fromStdString(error.what())] {
                m_tracking = false;
                emit trackFailed(words);
            });
        }
    });
    return true;
}

void SubjectService::cancelTracking()
{
    m_trackStop.request_stop();
}

} // namespace retinex::app
