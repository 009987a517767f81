#include "app/play/cache_bar.h"

#include "app/look/style.h"

#include <QEvent>
#include <QHelpEvent>
#include <QPainter>
#include <QToolTip>

namespace retinex::app {

namespace {

constexpr int kHeight = 6;

} // namespace

CacheBar::CacheBar(const Document& document, const DeskState& state, const FrameFiller& filler,
                   FocusDesk& desk)
    : QWidget(&desk), m_document(document), m_filler(filler), m_desk(desk)
{
    setObjectName(QStringLiteral("cacheBar"));
    setAccessibleName(tr("Frames ready to play"));
    desk.installEventFilter(this);
    const auto refresh = [this] {
        m_isOld = true;
        update();
    };
    connect(&filler, &FrameFiller::changed, this, refresh);
    connect(&document, &Document::opened, this, refresh);
    connect(&state, &DeskState::changed, this, qOverload<>(&QWidget::update));
    place();
}

void CacheBar::place()
{
    setGeometry(0, m_desk.height() - kHeight - 1, m_desk.width(), kHeight);
}

bool CacheBar::eventFilter(QObject* watched, QEvent* event)
{
    if (event->type() == QEvent::Resize) place();
    return QWidget::eventFilter(watched, event);
}

int CacheBar::readyFrames() const
{
    int ready = 0;
    const timeline::FrameRange range = m_document.project().playedFrames();
    for (int frame = range.first; frame <= range.last; ++frame)
        ready += m_filler.placeOf(frame) != FrameStore::Place::nowhere;
    return ready;
}

bool CacheBar::event(QEvent* event)
{
    if (event->type() == QEvent::ToolTip && m_document.isOpen()) {
        const timeline::FrameRange range = m_document.project().playedFrames();
        QToolTip::showText(static_cast<QHelpEvent*>(event)->globalPos(),
                           tr("%1 of %2 frames are ready to play. Full height: in memory. Half: on disk.")
                               .arg(readyFrames())
                               .arg(range.last - range.first + 1),
                           this);
        return true;
    }
    return QWidget::event(event);
}

void CacheBar::look()
{
    m_isOld = false;
    m_stretches.clear();
    const auto& project = m_document.project();
    for (int frame = project.firstFrame; frame <= project.lastFrame; ++frame) {
        const FrameStore::Place place = m_filler.placeOf(frame);
        if (place == FrameStore::Place::nowhere) continue;
        if (!m_stretches.empty() && m_stretches.back().last + 1 == frame && m_stretches.back().place == place)
            m_stretches.back().last = frame;
        else
            m_stretches.push_back({frame, frame, place});
    }
}

void CacheBar::paintEvent(QPaintEvent*)
{
    if (!m_document.isOpen()) return;
    if (m_isOld) look();
    QPainter painter(this);
    const FrameScale frames = m_desk.frameScale();
    painter.setClipRect(QRectF(frames.x0, 0, frames.width, kHeight));
    const bool canTellApart = frames.pxPerFrame() > 6.0;
    for (const Stretch& stretch : m_stretches) {
        const bool inMemory = stretch.place == FrameStore::Place::memory;
        const auto draw = [&](int first, int last) {
            const double left = frames.toX(first - 0.5);
            const double right = frames.toX(last + 0.5) - (canTellApart ? 1.0 : 0.0);
            painter.fillRect(QRectF(left, inMemory ? 1.0 : 3.0, right - left, inMemory ? 4.0 : 2.0),
                             inMemory ? style::text : style::dimText);
        };
        if (!canTellApart)
            draw(stretch.first, stretch.last);
        else
            for (int frame = std::max(stretch.first, static_cast<int>(frames.left) - 1);
                 frame <= std::min(stretch.last, static_cast<int>(frames.right) + 1); ++frame)
                draw(frame, frame);
    }
}

} // namespace retinex::app
