#pragma once

#include "app/document/document.h"
#include "app/store/frame_filler.h"

#include <QElapsedTimer>
#include <QTimer>
#include <deque>

namespace retinex::app {

/// Plays the frames of the document at its rate, from what the filler has in memory, and moves the document's
/// frame along.
class Playback : public QObject
{
    Q_OBJECT

public:
    /// What happens where a frame is not there in time.
    enum class Pace {
        keepTime,  ///< it is left out
        everyFrame ///< it is waited for
    };

    Playback(Document& document, FrameFiller& filler, QObject* parent = nullptr);

    [[nodiscard]] bool isPlaying() const noexcept { return m_direction != 0; }
    [[nodiscard]] int direction() const noexcept { return m_direction; } ///< 1, -1; 0: stopped
    [[nodiscard]] int speed() const noexcept { return m_speed; }         ///< times the document's rate
    /// Again in the same direction: twice as fast, up to eight times; at eight nothing changes.
    void shuttle(int direction);
    /// At the document's rate, or stops.
    void toggle(int direction = 1);
    void stop();

    [[nodiscard]] timeline::Loop loop() const noexcept { return m_loop; }
    void setLoop(timeline::Loop loop);
    [[nodiscard]] Pace pace() const noexcept { return m_pace; }
    void setPace(Pace pace);

    /// Frames shown per second, over the last second or so; 0 where there is nothing to tell yet.
    [[nodiscard]] double shownPerSecond() const;
    /// Frames left out, or waited for, since playing began.
    [[nodiscard]] int lateFrames() const noexcept { return m_late; }

signals:
    void shown(int frame, const QImage& picture);
    void stateChanged(); ///< begun, stopped, or otherwise
    void rateMeasured(); ///< about twice a second

private:
    void start(int direction, int speed);
    void tick();
    void waitForNext();
    void showFrame(int frame, long step, const QImage& picture);
    void moveTo(int frame);
    void tellCourse();
    [[nodiscard]] double nowMs() const;
    [[nodiscard]] double rate() const;
    [[nodiscard]] int frameOf(long step) const;

    Document& m_document;
    FrameFiller& m_filler;
    QTimer m_timer;
    QElapsedTimer m_clock;
    timeline::Loop m_loop = timeline::Loop::round;
    Pace m_pace = Pace::keepTime;
    int m_direction = 0;
    int m_speed = 1;
    int m_from = 1;       ///< frame at step 0
    long m_step = 0;      ///< last one shown
    double m_startMs = 0; ///< of step 0, on the clock
    int m_late = 0;
    bool m_waiting = false;
    bool m_moves = false; ///< the document's frame is being moved from here
    double m_toldMs = 0;
    std::deque<double> m_shownMs; ///< when the last frames were shown
};

} // namespace retinex::app
