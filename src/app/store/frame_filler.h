#pragma once

#include "app/pictures/picture_maker.h"
#include "app/store/frame_store.h"
#include "core/timeline/transport.h"

#include <QObject>
#include <QSet>
#include <condition_variable>
#include <functional>
#include <mutex>
#include <thread>

namespace retinex::app {

/// Makes the frames that are played, or will be, on a thread of its own, and keeps them in a FrameStore:
/// first those ahead of the frame that is shown, as many as memory holds, then the rest, to disk.
class FrameFiller : public QObject
{
    Q_OBJECT

public:
    explicit FrameFiller(FrameStore& store, QObject* parent = nullptr);
    ~FrameFiller() override;

    /// Draws what a view lays over its picture, onto a picture of any size. Called on the filler's thread.
    using Overlay =
        std::function<void(QImage& image, const Picture& picture, const project::Project& project)>;
    void setOverlay(Overlay overlay) { m_overlay = std::move(overlay); }

    /// What is played from now on: a frame's request without frame and detail.
    void setSubjectMatter(PictureRequest request, int divisor);
    /// Where playing is and how it goes on.
    struct Course
    {
        int frame = 1;
        int direction = 1;
        timeline::FrameRange range;
        timeline::Loop loop = timeline::Loop::round;
        bool isPlaying = false;
        friend bool operator==(const Course&, const Course&) = default;
    };
    void setCourse(const Course& course);
    /// Frames are made while nothing is played, too.
    void setFillsWhenIdle(bool fills);
    /// The machine is needed for something else: while nothing is played no frame is made.
    void setYielding(bool yields);

    [[nodiscard]] FrameStore::Place placeOf(int frame) const;
    /// At once; null when it is not in memory.
    [[nodiscard]] QImage pictureOf(int frame);
    /// The frame cannot be made; it is not tried again before something changes.
    [[nodiscard]] bool hasFailed(int frame) const;
    /// Nothing is left to be done, or may be done.
    [[nodiscard]] bool isResting() const;

signals:
    void changed(); ///< what is in the store; not more often than can be seen
    void failed(int frame, const QString& message);

private:
    enum class Work { none, keys, fetch, make };
    struct Job
    {
        Work work = Work::none;
        int frame = 0;
        QByteArray key;
        bool inMemory = true;
        int threads = 0;
    };

    void work();
    [[nodiscard]] Job nextJob() const;
    void makeKeys(const PictureRequest& request, int divisor);
    void make(const Job& job, const PictureRequest& request, int divisor, const std::stop_token& stop);
    [[nodiscard]] QByteArray keyOf(int frame) const; ///< "" while unknown
    [[nodiscard]] std::shared_ptr<const passes::PassSource> sourceFor(const PictureRequest& request);
    void tellChanged();
    [[nodiscard]] static QImage picture(const PictureRequest& request, int divisor, const Overlay& overlay,
                                        const Run& run);

    FrameStore& m_store;
    Overlay m_overlay;
    mutable std::mutex m_mutex; ///< of all that follows, to m_stop
    std::condition_variable m_wake;
    std::optional<PictureRequest> m_request;
    int m_divisor = 1;
    bool m_keysAreOld = false;
    std::vector<QByteArray> m_keys;
    int m_firstFrame = 1; ///< of the keys
    QSet<QByteArray> m_failed;
    Course m_course;
    bool m_fillsWhenIdle = true;
    bool m_yields = false;
    bool m_working = false;
    bool m_ending = false;
    std::stop_source m_stop;

    std::atomic<bool> m_told = false; ///< changed() is on its way
    // The work thread's alone.
    std::shared_ptr<const passes::PassSource> m_own; ///< so that what the window reads is not pushed out
    std::shared_ptr<const passes::PassSource> m_ownOf;
    std::thread m_thread;
};

} // namespace retinex::app
