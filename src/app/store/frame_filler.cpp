#include "app/store/frame_filler.h"

#include "app/store/frame_keys.h"
#include "core/base/error.h"
#include "core/base/failure.h"

#include <QTimer>
#include <algorithm>

namespace retinex::app {

namespace {

constexpr double kMemoryAhead = 0.75; ///< share of the memory for frames to come; the rest is for those shown
constexpr double kDiskShare = 0.9;    ///< what is made ahead must not push itself out
constexpr int kTellMs = 60;

} // namespace

FrameFiller::FrameFiller(FrameStore& store, QObject* parent) : QObject(parent), m_store(store)
{
    m_thread = std::thread([this] { work(); });
}

FrameFiller::~FrameFiller()
{
    {
        const std::lock_guard lock(m_mutex);
        m_ending = true;
        m_stop.request_stop();
    }
    m_wake.notify_all();
    m_thread.join();
}

void FrameFiller::setSubjectMatter(PictureRequest request, int divisor)
{
    {
        const std::lock_guard lock(m_mutex);
        m_request = std::move(request);
        m_divisor = std::max(1, divisor);
        m_keysAreOld = true;
        m_failed.clear();
        m_stop.request_stop();
    }
    m_wake.notify_all();
}

void FrameFiller::setCourse(const Course& course)
{
    {
        const std::lock_guard lock(m_mutex);
        if (course == m_course) return;
        m_course = course;
    }
    m_wake.notify_all();
}

void FrameFiller::setFillsWhenIdle(bool fills)
{
    const std::lock_guard lock(m_mutex);
    m_fillsWhenIdle = fills;
    m_wake.notify_all();
}

void FrameFiller::setYielding(bool yields)
{
    const std::lock_guard lock(m_mutex);
    if (yields == m_yields) return;
    m_yields = yields;
    if (yields && !m_course.isPlaying) m_stop.request_stop();
    m_wake.notify_all();
}

QByteArray FrameFiller::keyOf(int frame) const
{
    const std::lock_guard lock(m_mutex);
    const auto index = static_cast<std::size_t>(std::max(0, frame - m_firstFrame));
    return frame >= m_firstFrame && index < m_keys.size() ? m_keys[index] : QByteArray();
}

FrameStore::Place FrameFiller::placeOf(int frame) const
{
    return m_store.placeOf(keyOf(frame));
}

QImage FrameFiller::pictureOf(int frame)
{
    return m_store.find(keyOf(frame));
}

bool FrameFiller::hasFailed(int frame) const
{
    const QByteArray key = keyOf(frame);
    const std::lock_guard lock(m_mutex);
    return m_failed.contains(key);
}

bool FrameFiller::isResting() const
{
    const std::lock_guard lock(m_mutex);
    return !m_working && nextJob().work == Work::none;
}

/// With the mutex held.
FrameFiller::Job FrameFiller::nextJob() const
{
    if (!m_request) return {};
    if (m_keysAreOld) return {Work::keys, 0, {}, true, 0};
    if (!m_course.isPlaying && (!m_fillsWhenIdle || m_yields)) return {};
    const FrameStore::Limits limits = m_store.limits();
    const qint64 bytes = qint64(4) * (m_request->source->width() / m_divisor + 1) *
                         (m_request->source->height() / m_divisor + 1);
    const auto inMemory = std::max<qint64>(2, static_cast<qint64>(kMemoryAhead * limits.memory) / bytes);
    const auto onDisk = static_cast<qint64>(kDiskShare * limits.disk) / bytes;
    const int count = static_cast<int>(std::min<qint64>(1'000'000, std::max(inMemory, onDisk)));
    // While frames are shown, a core is left to the window.
    const int cores = static_cast<int>(std::thread::hardware_concurrency());
    const int threads = m_course.isPlaying ? std::max(1, cores - 1) : 0;
    std::vector<int> frames{m_course.frame};
    // Played once, frames before this one are wanted too: it will begin anew.
    const auto loop = m_course.loop == timeline::Loop::once ? timeline::Loop::round : m_course.loop;
    const auto ahead =
        timeline::framesAhead(m_course.range, loop, m_course.frame, m_course.direction, count - 1);
    frames.insert(frames.end(), ahead.begin(), ahead.end());
    for (std::size_t i = 0; i < frames.size(); ++i) {
        const int index = frames[i] - m_firstFrame;
        if (index < 0 || index >= static_cast<int>(m_keys.size())) continue;
        const QByteArray& key = m_keys[static_cast<std::size_t>(index)];
        const bool isNear = static_cast<qint64>(i) < inMemory;
        const auto place = m_store.placeOf(key);
        if (place == FrameStore::Place::memory || m_failed.contains(key)) continue;
        if (place == FrameStore::Place::disk) {
            if (isNear) return {Work::fetch, frames[i], key, true, 0};
        } else if (isNear || onDisk > 0) {
            return {Work::make, frames[i], key, isNear, threads};
        }
    }
    return {};
}

void FrameFiller::work()
{
    for (;;) {
        Job job;
        PictureRequest request;
        int divisor = 1;
        std::stop_token stop;
        {
            std::unique_lock lock(m_mutex);
            m_working = false;
            m_wake.wait(lock, [&] {
                if (m_ending) return true;
                job = nextJob();
                return job.work != Work::none;
            });
            if (m_ending) return;
            m_working = true;
            m_stop = std::stop_source();
            stop = m_stop.get_token();
            request = *m_request;
            divisor = m_divisor;
            if (job.work == Work::keys) m_keysAreOld = false;
        }
        if (job.work == Work::keys) {
            makeKeys(request, divisor);
        } else if (job.work == Work::make) {
            request.frame = job.frame;
            make(job, request, divisor, stop);
        } else {
            (void)m_store.fetch(job.key);
        }
        tellChanged();
    }
}

void FrameFiller::makeKeys(const PictureRequest& request, int divisor)
{
    std::vector<QByteArray> keys;
    try {
        keys = frameKeys(request, divisor);
    } catch (...) { // a matte's file is gone: what is made of it says so
    }
    const std::lock_guard lock(m_mutex);
    m_keys = std::move(keys);
    m_firstFrame = request.project->firstFrame;
}

void FrameFiller::make(const Job& job, const PictureRequest& request, int divisor,
                       const std::stop_token& stop)
{
    QString failure;
    try {
        PictureRequest own = request;
        own.source = sourceFor(request);
        m_store.put(job.key, picture(own, divisor, m_overlay, {job.threads, {}, stop}), job.inMemory);
        if (m_store.placeOf(job.key) != FrameStore::Place::nowhere) return;
        const std::lock_guard lock(m_mutex);
        m_failed.insert(job.key); // the disk is full
        return;
    } catch (const Cancelled&) {
        return;
    } catch (...) {
        failure = QString::fromStdString(
            failureText(std::current_exception(), tr("Making frame %1").arg(job.frame).toStdString()));
    }
    {
        const std::lock_guard lock(m_mutex);
        m_failed.insert(job.key);
    }
    QMetaObject::invokeMethod(this, [this, frame = job.frame, failure] { emit failed(frame, failure); });
}

std::shared_ptr<const passes::PassSource> FrameFiller::sourceFor(const PictureRequest& request)
{
    if (m_ownOf != request.source) {
        const project::Project& project = *request.project;
        m_own = std::make_shared<passes::PassSource>(project.colour, project.depth, project.passOptions, 1);
        m_ownOf = request.source;
    }
    return m_own;
}

QImage FrameFiller::picture(const PictureRequest& request, int divisor, const Overlay& overlay,
                            const Run& run)
{
    // Views other than the result are made in full always.
    const auto passes = request.source->load(request.frame, request.project->readingAt(request.frame));
    const bool inFull = request.mode != ViewMode::result || !canBeReduced(*passes);
    const Picture made = makePicture(request, {inFull ? 1 : divisor, {}}, run);
    QImage image = made.image;
    if (inFull && divisor > 1)
        image = image.scaled(image.size() / divisor, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
    if (image.format() != QImage::Format_RGB32) image = image.convertToFormat(QImage::Format_RGB32);
    if (overlay) overlay(image, made, *request.project);
    return image;
}

void FrameFiller::tellChanged()
{
    if (m_told.exchange(true)) return;
    QMetaObject::invokeMethod(this, [this] {
        QTimer::singleShot(kTellMs, this, [this] {
            m_told = false;
            emit changed();
        });
    });
}

} // namespace retinex::app
