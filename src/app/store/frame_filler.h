#pragma once

#include "app/jobs/background.h"
#include "app/pictures/picture_maker.h"
#include "app/store/frame_store.h"
#include "core/timeline/transport.h"

#include <QObject>
#include <functional>
#include <memory>

namespace retinex::app {

/// Makes the frames that are played, or will be, in the background, and keeps them in a FrameStore: first
/// those ahead of the frame that is shown, as many as memory holds, then the rest, to disk.
class FrameFiller : public QObject
{
    Q_OBJECT

public:
    explicit FrameFiller(std::shared_ptr<FrameStore> store, QObject* parent = nullptr);
    ~FrameFiller() override;

    /// Draws what a view lays over its picture, onto a picture of any size. Called in the background.
    using Overlay =
        std::function<void(QImage& image, const Picture& picture, const project::Project& project)>;
    void setOverlay(Overlay overlay);

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
    class Filling;
    /// Begins the work where there is some and none is under way.
    void wake();

    std::shared_ptr<Filling> m_filling;
    Background m_work;
};

} // namespace retinex::app
