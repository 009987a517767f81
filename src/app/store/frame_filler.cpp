#include "app/store/frame_filler.h"

#include "app/store/frame_keys.h"
#include "core/frame/lay_in.h"
#include "core/system/error.h"
#include "core/system/failure.h"

#include <QSet>
#include <QTimer>
#include <algorithm>
#include <mutex>
#include <thread>

namespace retinex::app {

namespace {

constexpr double kMemoryAhead = 0.75; ///< share of the memory for frames to come; the rest is for those shown
constexpr double kDiskShare = 0.9;    ///< what is made ahead must not push itself out
constexpr int kTellMs = 60;

} // namespace

/// What the interface and the work have in common; it lives as long as either needs it.
class FrameFiller::Filling
{
public:
    enum class Work { none, keys, fetch, make };
    struct Job
    {
        Work work = Work::none;
        int frame = 0;
        QByteArray key;
        bool inMemory = true;
        int threads = 0;
    };
    struct Tell ///< called in the background
    {
        std::function<void()> changed;
        std::function<void(int frame, const QString& message)> failed;
    };

    explicit Filling(std::shared_ptr<FrameStore> frames) : store(std::move(frames)) {}

    [[nodiscard]] Job nextJob() const;                       ///< with the mutex held
    [[nodiscard]] QByteArray keyOf(int frame) const;         ///< "" while unknown
    void work(const std::stop_token& end, const Tell& tell); ///< until nothing is left to be done

    const std::shared_ptr<FrameStore> store;
    mutable std::mutex mutex; ///< of all that follows, to `stop`
    Overlay overlay;
    std::optional<PictureRequest> request;
    int divisor = 1;
    bool keysAreOld = false;
    std::vector<QByteArray> keys;
    int firstFrame = 1; ///< of the keys
    QSet<QByteArray> failed;
    Course course;
    bool fillsWhenIdle = true;
    bool yields = false;
    bool isWorking = false;
    bool isEnding = false;
    std::stop_source stop; ///< of the job under way

    std::atomic<bool> isTold = false; ///< changed() is on its way

private:
    void makeKeys(const PictureRequest& wanted, int reduction);
    /// "" or why the frame cannot be made.
    [[nodiscard]] QString make(const Job& job, const PictureRequest& wanted, int reduction,
                               const Overlay& drawn, const std::stop_token& jobStop);
    [[nodiscard]] std::shared_ptr<const passes::PassSource> sourceFor(const PictureRequest& wanted);
    [[nodiscard]] static QImage picture(const PictureRequest& wanted, int reduction, const Overlay& drawn,
                                        const Run& run);

    // The work's alone.
    std::shared_ptr<const passes::PassSource> m_own; ///< so that what the window reads is not pushed out
    std::shared_ptr<const passes::PassSource> m_ownOf;
};

FrameFiller::FrameFiller(std::shared_ptr<FrameStore> store, QObject* parent)
    : QObject(parent), m_filling(std::make_shared<Filling>(std::move(store)))
{
}

FrameFiller::~FrameFiller()
{
    const std::lock_guard lock(m_filling->mutex);
    m_filling->isEnding = true;
    m_filling->stop.request_stop();
}

void FrameFiller::setOverlay(Overlay overlay)
{
    const std::lock_guard lock(m_filling->mutex);
    m_filling->overlay = std::move(overlay);
}

void FrameFiller::setSubjectMatter(PictureRequest request, int divisor)
{
    {
        const std::lock_guard lock(m_filling->mutex);
        m_filling->request = std::move(request);
        m_filling->divisor = std::max(1, divisor);
        m_filling->keysAreOld = true;
        m_filling->failed.clear();
        m_filling->stop.request_stop();
    }
    wake();
}

void FrameFiller::setCourse(const Course& course)
{
    {
        const std::lock_guard lock(m_filling->mutex);
        if (course == m_filling->course) return;
        m_filling->course = course;
    }
    wake();
}

void FrameFiller::setFillsWhenIdle(bool fills)
{
    {
        const std::lock_guard lock(m_filling->mutex);
        m_filling->fillsWhenIdle = fills;
    }
    wake();
}

void FrameFiller::setYielding(bool yields)
{
    {
        const std::lock_guard lock(m_filling->mutex);
        if (yields == m_filling->yields) return;
        m_filling->yields = yields;
        if (yields && !m_filling->course.isPlaying) m_filling->stop.request_stop();
    }
    wake();
}

void FrameFiller::wake()
{
    {
        const std::lock_guard lock(m_filling->mutex);
        if (m_filling->isWorking || m_filling->nextJob().work == Filling::Work::none) return;
        m_filling->isWorking = true;
    }
    m_work.start(tr("Making frames"), [this, filling = m_filling](const Background::Task& task) {
        const auto tellSoon = [this, filling] {
            QTimer::singleShot(kTellMs, this, [this, filling] {
                filling->isTold = false;
                emit changed();
            });
        };
        try {
            filling->work(task.stop(),
                          {[filling, task, tellSoon] {
                               if (!filling->isTold.exchange(true)) task.postEvenIfOld(tellSoon);
                           },
                           [this, task](int frame, const QString& message) {
                               task.postEvenIfOld([this, frame, message] { emit failed(frame, message); });
                           }});
        } catch (...) { // no memory, say: the next change tries again
            const std::lock_guard lock(filling->mutex);
            filling->isWorking = false;
        }
    });
}

FrameStore::Place FrameFiller::placeOf(int frame) const
{
    return m_filling->store->placeOf(m_filling->keyOf(frame));
}

QImage FrameFiller::pictureOf(int frame)
{
    return m_filling->store->find(m_filling->keyOf(frame));
}

bool FrameFiller::hasFailed(int frame) const
{
    const QByteArray key = m_filling->keyOf(frame);
    const std::lock_guard lock(m_filling->mutex);
    return m_filling->failed.contains(key);
}

bool FrameFiller::isResting() const
{
    const std::lock_guard lock(m_filling->mutex);
    return !m_filling->isWorking && m_filling->nextJob().work == Filling::Work::none;
}

QByteArray FrameFiller::Filling::keyOf(int frame) const
{
    const std::lock_guard lock(mutex);
    const auto index = static_cast<std::size_t>(std::max(0, frame - firstFrame));
    return frame >= firstFrame && index < keys.size() ? keys[index] : QByteArray();
}

FrameFiller::Filling::Job FrameFiller::Filling::nextJob() const
{
    if (!request) return {};
    if (keysAreOld) return {Work::keys, 0, {}, true, 0};
    if (!course.isPlaying && (!fillsWhenIdle || yields)) return {};
    const FrameStore::Limits limits = store->limits();
    const qint64 bytes =
        qint64(4) * (request->source->width() / divisor + 1) * (request->source->height() / divisor + 1);
    const auto inMemory = std::max<qint64>(
        1, static_cast<qint64>(kMemoryAhead * static_cast<double>(store->roomInMemory())) / bytes);
    const auto onDisk = static_cast<qint64>(kDiskShare * limits.disk) / bytes;
    const int count = static_cast<int>(std::min<qint64>(1'000'000, std::max(inMemory, onDisk)));
    // While frames are shown, a core is left to the window.
    const int cores = static_cast<int>(std::thread::hardware_concurrency());
    const int threads = course.isPlaying ? std::max(1, cores - 1) : 0;
    std::vector<int> frames{course.frame};
    // Played once, frames before this one are wanted too: it will begin anew.
    const auto loop = course.loop == timeline::Loop::once ? timeline::Loop::round : course.loop;
    const auto ahead = timeline::framesAhead(course.range, loop, course.frame, course.direction, count - 1);
    frames.insert(frames.end(), ahead.begin(), ahead.end());
    for (std::size_t i = 0; i < frames.size(); ++i) {
        const int index = frames[i] - firstFrame;
        if (index < 0 || index >= static_cast<int>(keys.size())) continue;
        const QByteArray& key = keys[static_cast<std::size_t>(index)];
        const bool isNear = static_cast<qint64>(i) < inMemory;
        const auto place = store->placeOf(key);
        if (place == FrameStore::Place::memory || failed.contains(key)) continue;
        if (place == FrameStore::Place::disk) {
            if (isNear) return {Work::fetch, frames[i], key, true, 0};
        } else if (isNear || onDisk > 0) {
            return {Work::make, frames[i], key, isNear, threads};
        }
    }
    return {};
}

void FrameFiller::Filling::work(const std::stop_token& end, const Tell& tell)
{
    for (;;) {
        Job job;
        PictureRequest wanted;
        Overlay drawn;
        int reduction = 1;
        std::stop_token jobStop;
        {
            const std::lock_guard lock(mutex);
            job = isEnding || end.stop_requested() ? Job{} : nextJob();
            isWorking = job.work != Work::none;
            if (!isWorking) return;
            stop = std::stop_source();
            jobStop = stop.get_token();
            wanted = *request;
            drawn = overlay;
            reduction = divisor;
            if (job.work == Work::keys) keysAreOld = false;
        }
        if (job.work == Work::keys) {
            makeKeys(wanted, reduction);
        } else if (job.work == Work::make) {
            wanted.frame = job.frame;
            const QString failure = make(job, wanted, reduction, drawn, jobStop);
            if (!failure.isEmpty()) tell.failed(job.frame, failure);
        } else {
            (void)store->fetch(job.key);
        }
        tell.changed();
    }
}

void FrameFiller::Filling::makeKeys(const PictureRequest& wanted, int reduction)
{
    std::vector<QByteArray> made;
    try {
        made = frameKeys(wanted, reduction);
    } catch (...) { // a matte's file is gone: what is made of it says so
    }
    const std::lock_guard lock(mutex);
    keys = std::move(made);
    firstFrame = wanted.project->firstFrame;
}

QString FrameFiller::Filling::make(const Job& job, const PictureRequest& wanted, int reduction,
                                   const Overlay& drawn, const std::stop_token& jobStop)
{
    QString failure;
    try {
        PictureRequest own = wanted;
        own.source = sourceFor(wanted);
        store->put(job.key, picture(own, reduction, drawn, {job.threads, {}, jobStop}), job.inMemory);
        if (store->placeOf(job.key) != FrameStore::Place::nowhere) return {}; // else the disk is full
    } catch (const Cancelled&) {
        return {};
    } catch (...) {
        failure = QString::fromStdString(failureText(
            std::current_exception(), FrameFiller::tr("Making frame %1").arg(job.frame).toStdString()));
    }
    const std::lock_guard lock(mutex);
    failed.insert(job.key);
    return failure;
}

std::shared_ptr<const passes::PassSource> FrameFiller::Filling::sourceFor(const PictureRequest& wanted)
{
    if (m_ownOf != wanted.source) {
        const project::Project& project = *wanted.project;
        m_own = std::make_shared<passes::PassSource>(project.colour, project.depth, project.passOptions,
                                                     passes::Keeping{store->budget(), 0.0, 1});
        m_ownOf = wanted.source;
    }
    return m_own;
}

QImage FrameFiller::Filling::picture(const PictureRequest& wanted, int reduction, const Overlay& drawn,
                                     const Run& run)
{
    // Views other than the result are made in full always.
    const auto passes = frame::framePasses(*wanted.source, *wanted.project, wanted.frame, run);
    const bool inFull = wanted.mode != ViewMode::result || !canBeReduced(*passes);
    const Picture made = makePicture(wanted, {inFull ? 1 : reduction, {}}, run);
    QImage image = made.image;
    if (inFull && reduction > 1)
        image = image.scaled(image.size() / reduction, Qt::IgnoreAspectRatio, Qt::SmoothTransformation);
    if (image.format() != QImage::Format_RGB32) image = image.convertToFormat(QImage::Format_RGB32);
    if (drawn) drawn(image, made, *wanted.project);
    return image;
}

} // namespace retinex::app
