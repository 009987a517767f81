#include "app/views/focus_desk.h"

#include "app/views/style.h"

#include <QContextMenuEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <cmath>

namespace retinex::app {

namespace {

constexpr double kGrab = 8.0;

QString easeWord(timeline::Ease ease)
{
    switch (ease) {
    case timeline::Ease::hold:
        return FocusDesk::tr("Hold until the next mark");
    case timeline::Ease::linear:
        return FocusDesk::tr("Even pull");
    default:
        return FocusDesk::tr("Smooth pull");
    }
}

/// Frames between numbers on the ruler: 1, 2, 5, 10 ... so that they stand at least 48 px apart.
int rulerStep(double pxPerFrame)
{
    for (int power = 1;; power *= 10)
        for (const int factor : {1, 2, 5})
            if (power * factor * pxPerFrame >= 48.0) return power * factor;
}

} // namespace

FocusDesk::FocusDesk(Document& document, const DepthSurvey& survey, QWidget* parent)
    : QWidget(parent), m_document(document), m_survey(survey)
{
    setObjectName(QStringLiteral("focusDesk"));
    setAccessibleName(tr("Focus desk"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumSize(240, 120);
    const auto refresh = [this] { update(); };
    connect(&document, &Document::projectChanged, this, refresh);
    connect(&document, &Document::frameChanged, this, refresh);
    connect(&document, &Document::opened, this, [this] { m_selected = -1; });
    connect(&survey, &DepthSurvey::changed, this, [this] {
        m_heat = {};
        update();
    });
}

void FocusDesk::setAxis(const SharedAxis& shared)
{
    m_shared = shared;
    m_heat = {};
    update();
}

QRectF FocusDesk::plot() const
{
    return QRectF(8, SharedAxis::topMargin, width() - 16,
                  height() - SharedAxis::topMargin - SharedAxis::bottomMargin);
}

double FocusDesk::frameToX(double frame) const
{
    const auto& project = m_document.project();
    const double frames = project.lastFrame - project.firstFrame + 1;
    return plot().left() + (frame - project.firstFrame + 0.5) / frames * plot().width();
}

int FocusDesk::xToFrame(double x) const
{
    const auto& project = m_document.project();
    const double frames = project.lastFrame - project.firstFrame + 1;
    const int frame =
        project.firstFrame + static_cast<int>(std::floor((x - plot().left()) / plot().width() * frames));
    return std::clamp(frame, project.firstFrame, project.lastFrame);
}

QPoint FocusDesk::pointFor(int frame, double distance) const
{
    return QPointF(frameToX(frame), plot().top() + axis().toY(distance)).toPoint();
}

int FocusDesk::markAt(QPointF pos) const
{
    for (const auto& mark : m_document.project().marks) {
        const QPointF d = pos - QPointF(pointFor(mark.frame, mark.distance));
        if (std::hypot(d.x(), d.y()) <= kGrab) return mark.frame;
    }
    return -1;
}

void FocusDesk::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.fillRect(rect(), style::panel);
    painter.fillRect(plot(), style::well);
    if (!m_document.isOpen()) {
        painter.setPen(style::dimText);
        painter.setFont(style::textFont(8.5));
        painter.drawText(QRect(10, 0, width(), SharedAxis::topMargin), Qt::AlignVCenter, tr("Focus desk"));
        return;
    }
    paintHeat(painter);
    painter.setRenderHint(QPainter::Antialiasing);
    paintFrames(painter);
    painter.setClipRect(plot().adjusted(0, -1, 0, 1));
    paintLine(painter);
    painter.setClipping(false);
    paintMarks(painter);
}

void FocusDesk::paintHeat(QPainter& painter)
{
    const auto& project = m_document.project();
    const DistanceAxis a = axis();
    const int rows = static_cast<int>(a.height());
    const int frames = project.lastFrame - project.firstFrame + 1;
    if (m_heat.isNull() && rows > 0) {
        m_heat = QImage(frames, rows, QImage::Format_RGB32);
        m_heat.fill(style::well);
        for (const auto& [frame, column] : m_survey.columns()) {
            if (frame < project.firstFrame || frame > project.lastFrame || column.range.pixelCount == 0)
                continue;
            for (int y = 0; y < rows; ++y) {
                const int bin = std::clamp(static_cast<int>(DepthSurvey::binPosition(a.toDistance(y + 0.5))),
                                           0, DepthSurvey::binCount - 1);
                const double share = static_cast<double>(column.bins[static_cast<std::size_t>(bin)]) /
                                     static_cast<double>(column.range.pixelCount);
                const int grey = 28 + static_cast<int>(std::min(110.0, 700.0 * std::sqrt(share)));
                m_heat.setPixel(frame - project.firstFrame, y, qRgb(grey, grey, grey));
            }
        }
    }
    painter.drawImage(plot(), m_heat);
}

void FocusDesk::paintFrames(QPainter& painter) const
{
    const auto& project = m_document.project();
    const double pxPerFrame = plot().width() / (project.lastFrame - project.firstFrame + 1);
    const int step = rulerStep(pxPerFrame);
    painter.setFont(style::numberFont(8));
    for (int frame = project.firstFrame; frame <= project.lastFrame; ++frame) {
        if (frame % step != 0 && frame != project.firstFrame) continue;
        const double x = frameToX(frame);
        painter.setPen(QColor(54, 54, 54));
        painter.drawLine(QPointF(x, plot().top()), QPointF(x, plot().bottom()));
        if (std::abs(x - frameToX(m_document.frame())) < 30.0 ||
            (frame != project.firstFrame && frame - project.firstFrame < step / 2))
            continue;
        painter.setPen(style::dimText);
        painter.drawText(QRectF(x - 24, 4, 48, SharedAxis::topMargin - 6), Qt::AlignCenter,
                         QString::number(frame));
    }
    const double x = frameToX(m_document.frame());
    painter.setPen(QPen(style::text, 1));
    painter.drawLine(QPointF(x, SharedAxis::topMargin - 4), QPointF(x, plot().bottom()));
    const QRectF flag(std::clamp(x - 20, 0.0, width() - 40.0), 5, 40, 17);
    painter.fillRect(flag, style::text);
    painter.setPen(style::well);
    painter.drawText(flag, Qt::AlignCenter, QString::number(m_document.frame()));
}

void FocusDesk::paintLine(QPainter& painter) const
{
    const auto& project = m_document.project();
    const DistanceAxis a = axis();
    const double top = plot().top();
    QPainterPath focus;
    QPolygonF band;
    QPolygonF lower;
    const double step = std::max(1.0 / 8.0, (project.lastFrame - project.firstFrame) / plot().width());
    bool first = true;
    const auto add = [&](double frame, double x) {
        const auto zone = optics::sharpZone(project.lensAt(frame), project.acceptedCocMm);
        const QPointF p(x, top + a.toY(project.focusDistanceAt(frame)));
        first ? focus.moveTo(p) : focus.lineTo(p);
        first = false;
        band.append({x, top + a.toY(project.fromMillimetres(zone.farMm))});
        lower.prepend({x, top + a.toY(project.fromMillimetres(zone.nearMm))});
    };
    add(project.firstFrame, plot().left());
    for (double frame = project.firstFrame; frame <= project.lastFrame + 1e-6; frame += step)
        add(std::min<double>(frame, project.lastFrame), frameToX(std::min<double>(frame, project.lastFrame)));
    add(project.lastFrame, plot().right());
    painter.setPen(Qt::NoPen);
    painter.setBrush(QColor(255, 255, 255, 34));
    painter.drawPolygon(band + lower);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(style::farSide, 1.0, Qt::DotLine));
    painter.drawPolyline(band);
    painter.setPen(QPen(style::nearSide, 1.0, Qt::DashLine));
    painter.drawPolyline(lower);
    painter.setPen(QPen(style::focal, 2.2));
    painter.drawPath(focus);
}

void FocusDesk::paintMarks(QPainter& painter) const
{
    const auto& project = m_document.project();
    painter.setFont(style::numberFont(8));
    for (const auto& mark : project.marks) {
        const QPointF p(pointFor(mark.frame, mark.distance));
        const bool selected = mark.frame == m_selected;
        const QPointF diamond[4] = {p + QPointF(0, -6), p + QPointF(6, 0), p + QPointF(0, 6),
                                    p + QPointF(-6, 0)};
        painter.setPen(QPen(selected ? style::text : style::well, selected ? 2.0 : 1.0));
        painter.setBrush(style::focal);
        painter.drawPolygon(diamond, 4);
        if (!selected) continue;
        const QString words = tr("%1: %2")
                                  .arg(mark.frame)
                                  .arg(QString::fromStdString(
                                      optics::formatDistance(project.metres(mark.distance), project.unit)));
        const double textWidth = painter.fontMetrics().horizontalAdvance(words) + 10;
        const double left = std::clamp(p.x() + 10, plot().left(), plot().right() - textWidth);
        const QRectF box(left, std::clamp(p.y() - 26, plot().top(), plot().bottom() - 18), textWidth, 18);
        painter.fillRect(box, QColor(20, 20, 20, 220));
        painter.setPen(style::text);
        painter.drawText(box, Qt::AlignCenter, words);
    }
}

void FocusDesk::mousePressEvent(QMouseEvent* event)
{
    if (event->button() != Qt::LeftButton || !m_document.isOpen()) return;
    const int mark = markAt(event->position());
    m_selected = mark;
    m_gesture = m_document.newGesture();
    m_draggingMark = mark >= 0;
    m_scrubbing = mark < 0;
    if (m_scrubbing) m_document.setFrame(xToFrame(event->position().x()));
    update();
}

void FocusDesk::mouseMoveEvent(QMouseEvent* event)
{
    if (m_draggingMark)
        moveMarkTo(event->position());
    else if (m_scrubbing)
        m_document.setFrame(xToFrame(event->position().x()));
    else
        setCursor(markAt(event->position()) >= 0 ? Qt::SizeAllCursor : Qt::ArrowCursor);
}

void FocusDesk::moveMarkTo(QPointF pos)
{
    const auto* mark = timeline::markOn(m_document.project().marks, m_selected);
    if (!mark) return;
    int frame = xToFrame(pos.x());
    // A mark does not run over another one: it stops beside it.
    for (const auto& other : m_document.project().marks) {
        if (other.frame == m_selected) continue;
        if (other.frame < m_selected)
            frame = std::max(frame, other.frame + 1);
        else
            frame = std::min(frame, other.frame - 1);
    }
    const timeline::Mark moved{frame, axis().toDistance(pos.y() - plot().top()), mark->ease};
    const int from = m_selected;
    m_selected = frame;
    m_document.moveMark(from, moved, m_gesture);
}

void FocusDesk::mouseReleaseEvent(QMouseEvent*)
{
    m_draggingMark = false;
    m_scrubbing = false;
}

void FocusDesk::mouseDoubleClickEvent(QMouseEvent* event)
{
    if (!m_document.isOpen() || markAt(event->position()) >= 0) return;
    const int frame = xToFrame(event->position().x());
    const auto& project = m_document.project();
    // On the line: a mark that leaves the line where it is. Elsewhere: a mark right there.
    const double here = project.focusDistanceAt(frame);
    const double lineY = plot().top() + axis().toY(here);
    const bool onLine = std::abs(event->position().y() - lineY) < kGrab;
    m_document.setMark({frame, onLine ? here : axis().toDistance(event->position().y() - plot().top()),
                        timeline::Ease::smooth});
    m_selected = frame;
    update();
}

void FocusDesk::contextMenuEvent(QContextMenuEvent* event)
{
    if (!m_document.isOpen()) return;
    const int frame = markAt(event->pos());
    QMenu menu(this);
    if (frame >= 0) {
        m_selected = frame;
        const timeline::Mark mark = *timeline::markOn(m_document.project().marks, frame);
        for (const auto ease : {timeline::Ease::smooth, timeline::Ease::linear, timeline::Ease::hold}) {
            QAction* action = menu.addAction(easeWord(ease), this, [this, mark, ease] {
                m_document.setMark({mark.frame, mark.distance, ease});
            });
            action->setCheckable(true);
            action->setChecked(mark.ease == ease);
        }
        menu.addSeparator();
        menu.addAction(tr("Delete mark"), this, &FocusDesk::deleteSelectedMark);
    } else {
        const int here = xToFrame(event->pos().x());
        menu.addAction(tr("Set mark at %1").arg(here), this, [this, here] {
            m_document.setMark({here, m_document.project().focusDistanceAt(here), timeline::Ease::smooth});
        });
    }
    update();
    menu.exec(event->globalPos());
}

void FocusDesk::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Delete || event->key() == Qt::Key_Backspace)
        deleteSelectedMark();
    else
        QWidget::keyPressEvent(event);
}

void FocusDesk::resizeEvent(QResizeEvent*)
{
    m_heat = {};
}

void FocusDesk::setMarkHere()
{
    if (!m_document.isOpen()) return;
    const int frame = m_document.frame();
    const auto* present = timeline::markOn(m_document.project().marks, frame);
    m_document.setMark({frame, m_document.project().focusDistanceAt(frame),
                        present ? present->ease : timeline::Ease::smooth});
    m_selected = frame;
    update();
}

void FocusDesk::deleteSelectedMark()
{
    const int frame = m_selected >= 0 ? m_selected : m_document.frame();
    m_selected = -1;
    m_document.removeMark(frame);
    update();
}

void FocusDesk::goToMark(int direction)
{
    const auto& marks = m_document.project().marks;
    int best = -1;
    for (const auto& mark : marks)
        if ((direction < 0 && mark.frame < m_document.frame()) ||
            (direction > 0 && mark.frame > m_document.frame() && best < 0))
            best = mark.frame;
    if (best >= 0) {
        m_selected = best;
        m_document.setFrame(best);
    }
}

} // namespace retinex::app
