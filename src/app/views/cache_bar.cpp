#include "app/views/cache_bar.h"

#include "app/views/style.h"

#include <QEvent>
#include <QHelpEvent>
#include <QPainter>
#include <QToolTip>
#include <cmath>

namespace retinex::app {

namespace {

constexpr int kHeight = 6;
constexpr int kSide = 8; ///< as the desk's plot

} // namespace

CacheBar::CacheBar(const Document& document, const DeskState& state, const FrameFiller& filler, QWidget* desk)
    : QWidget(desk), m_document(document), m_state(state), m_filler(filler)
{
    setObjectName(QStringLiteral("cacheBar"));
    setAccessibleName(tr("Frames ready to play"));
    desk->installEventFilter(this);
    connect(&filler, &FrameFiller::changed, this, qOverload<>(&QWidget::update));
    connect(&state, &DeskState::changed, this, qOverload<>(&QWidget::update));
    connect(&document, &Document::opened, this, qOverload<>(&QWidget::update));
    place();
}

void CacheBar::place()
{
    const QSize desk = parentWidget()->size();
    setGeometry(0, desk.height() - kHeight - 1, desk.width(), kHeight);
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

void CacheBar::paintEvent(QPaintEvent*)
{
    if (!m_document.isOpen()) return;
    QPainter painter(this);
    const FrameScale frames{m_state.leftFrame(), m_state.rightFrame(), kSide,
                            static_cast<double>(width() - 2 * kSide)};
    painter.fillRect(QRect(kSide, 0, width() - 2 * kSide, kHeight), style::panel);
    painter.setClipRect(QRect(kSide, 0, width() - 2 * kSide, kHeight));
    const auto& project = m_document.project();
    const int first = std::max(project.firstFrame, static_cast<int>(std::floor(frames.left)));
    const int last = std::min(project.lastFrame, static_cast<int>(std::ceil(frames.right)));
    const auto draw = [&](int from, int to, FrameStore::Place place) {
        if (place == FrameStore::Place::nowhere) return;
        const double left = frames.toX(from - 0.5);
        const double right = frames.toX(to + 0.5) - (frames.pxPerFrame() > 6.0 ? 1.0 : 0.0);
        const bool inMemory = place == FrameStore::Place::memory;
        painter.fillRect(QRectF(left, inMemory ? 1.0 : 3.0, right - left, inMemory ? 4.0 : 2.0),
                         inMemory ? style::text : style::dimText);
    };
    const bool single = frames.pxPerFrame() > 6.0; // frames can be told apart
    int from = first;
    FrameStore::Place place = FrameStore::Place::nowhere;
    for (int frame = first; frame <= last; ++frame) {
        const FrameStore::Place here = m_filler.placeOf(frame);
        if (frame == first) place = here;
        if (here != place || (single && frame > from)) {
            draw(from, frame - 1, place);
            from = frame;
            place = here;
        }
    }
    if (first <= last) draw(from, last, place);
}

} // namespace retinex::app
