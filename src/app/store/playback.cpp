#include "app/store/playback.h"

#include <algorithm>
#include <cmath>

namespace retinex::app {

namespace {

constexpr int kFastest = 8;
constexpr double kMeasuredMs = 1000.0;
constexpr double kStandsMs = 400.0; ///< a frame that is shown for so long is waited on
constexpr double kTellRateMs = 500.0;
constexpr double kWaitMs = 4.0; ///< between looks at a frame that is waited for

} // namespace

Playback::Playback(Document& document, FrameFiller& filler, QObject* parent)
    : QObject(parent), m_document(document), m_filler(filler)
{
    m_timer.setSingleShot(true);
    m_timer.setTimerType(Qt::PreciseTimer);
    connect(&m_timer, &QTimer::timeout, this, &Playback::tick);
    connect(&document, &Document::opened, this, &Playback::stop);
    connect(&document, &Document::projectChanged, this, [this] {
        if (isPlaying()) start(m_direction, m_speed); // rate or range may be others
        tellCourse();
    });
    connect(&document, &Document::frameChanged, this, [this] {
        if (isPlaying() && !m_moves)
            stop(); // the artist went elsewhere
        else
            tellCourse();
    });
    m_clock.start();
}

void Playback::shuttle(int direction)
{
    start(direction, direction == m_direction ? std::min(2 * m_speed, kFastest) : 1);
}

void Playback::toggle(int direction)
{
    if (isPlaying())
        stop();
    else
        start(direction, 1);
}

void Playback::stop()
{
    if (!isPlaying()) return;
    m_timer.stop();
    m_direction = 0;
    m_speed = 1;
    tellCourse();
    emit stateChanged();
}

void Playback::setLoop(timeline::Loop loop)
{
    m_loop = loop;
    if (isPlaying()) start(m_direction, m_speed);
    tellCourse();
    emit stateChanged();
}

void Playback::setPace(Pace pace)
{
    m_pace = pace;
    if (isPlaying()) start(m_direction, m_speed);
    emit stateChanged();
}

void Playback::start(int direction, int speed)
{
    if (!m_document.isOpen() || !m_document.isSequence()) return;
    const bool isNew = direction != m_direction || speed != m_speed;
    const timeline::FrameRange range = m_document.project().playedFrames();
    m_from = m_document.frame();
    if (!range.contains(m_from)) m_from = direction < 0 ? range.last : range.first;
    if (isNew && m_loop == timeline::Loop::once) { // at the end it begins anew
        if (direction > 0 && m_from == range.last) m_from = range.first;
        if (direction < 0 && m_from == range.first) m_from = range.last;
    }
    m_direction = direction;
    m_speed = speed;
    m_step = 0;
    m_startMs = nowMs();
    if (isNew) {
        m_late = 0;
        m_shownMs.clear();
        m_toldMs = m_startMs;
    }
    moveTo(m_from);
    tellCourse();
    waitForNext();
    if (isNew) emit stateChanged();
}

double Playback::nowMs() const
{
    return static_cast<double>(m_clock.nsecsElapsed()) / 1e6;
}

double Playback::rate() const
{
    return m_document.project().playing.framesPerSecond * m_speed;
}

int Playback::frameOf(long step) const
{
    return timeline::frameAfter(m_document.project().playedFrames(), m_loop, m_from, m_direction * step);
}

void Playback::tick()
{
    if (!isPlaying()) return;
    const double now = nowMs();
    const double frameMs = 1000.0 / rate();
    const long due =
        static_cast<long>((now - m_startMs) / frameMs + 0.02); // a timer may be early by a little
    if (due > m_step) {
        const long step = m_pace == Pace::everyFrame ? m_step + 1 : due;
        const int frame = frameOf(step);
        const QImage picture = m_filler.pictureOf(frame);
        if (!picture.isNull()) {
            if (m_pace == Pace::keepTime) m_late += static_cast<int>(due - m_step - 1);
            // What was waited for is not made up for by haste.
            if (m_pace == Pace::everyFrame && due > step)
                m_startMs = now - frameMs * static_cast<double>(step);
            showFrame(frame, step, picture);
        } else if (m_pace == Pace::everyFrame && m_filler.hasFailed(frame)) {
            m_step = step; // there is none
        } else if (m_pace == Pace::everyFrame && !m_waiting) {
            m_waiting = true;
            ++m_late;
        }
        const timeline::FrameRange range = m_document.project().playedFrames();
        const bool isAtEnd =
            m_loop == timeline::Loop::once && frame == (m_direction > 0 ? range.last : range.first);
        if (isAtEnd && (m_step == step || m_pace == Pace::keepTime)) {
            stop();
            return;
        }
    }
    if (now - m_toldMs > kTellRateMs) {
        m_toldMs = now;
        emit rateMeasured();
    }
    waitForNext();
}

void Playback::showFrame(int frame, long step, const QImage& picture)
{
    m_step = step;
    m_waiting = false;
    const double now = nowMs();
    m_shownMs.push_back(now);
    while (m_shownMs.size() > 2 && now - m_shownMs[1] > kMeasuredMs)
        m_shownMs.pop_front();
    emit shown(frame, picture);
    moveTo(frame);
}

void Playback::moveTo(int frame)
{
    m_moves = true;
    m_document.setFrame(frame);
    m_moves = false;
}

void Playback::waitForNext()
{
    const double now = nowMs();
    const double frameMs = 1000.0 / rate();
    double wait = m_startMs + frameMs * static_cast<double>(m_step + 1) - now;
    if (wait < 0.0 && m_pace == Pace::keepTime) // the next one that can be in time
        wait = frameMs - std::fmod(now - m_startMs, frameMs);
    m_timer.start(static_cast<int>(std::ceil(std::max(wait, m_waiting ? kWaitMs : 0.0))));
}

void Playback::tellCourse()
{
    if (!m_document.isOpen()) return;
    m_filler.setCourse({m_document.frame(), m_direction < 0 ? -1 : 1, m_document.project().playedFrames(),
                        m_loop, isPlaying()});
}

double Playback::shownPerSecond() const
{
    if (m_shownMs.size() < 3) return 0.0;
    // A frame that stands for long is no rate: the next one is waited for.
    if (isPlaying() && nowMs() - m_shownMs.back() > std::max(kStandsMs, 3.0 * 1000.0 / rate())) return 0.0;
    return 1000.0 * static_cast<double>(m_shownMs.size() - 1) / (m_shownMs.back() - m_shownMs.front());
}

} // namespace retinex::app
