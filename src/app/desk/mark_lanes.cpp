#include "app/desk/mark_lanes.h"

#include "app/fields/setting_formats.h"
#include "app/look/style.h"

#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <climits>
#include <cmath>

namespace retinex::app {

namespace {

constexpr int kLane = 20; ///< px
constexpr double kLaneGrab = 8.0;
constexpr int kNoMark = INT_MIN;

} // namespace

MarkLanes::MarkLanes(Document& document, DeskState& state, QWidget* parent)
    : QWidget(parent), m_document(document), m_state(state)
{
    setObjectName(QStringLiteral("markLanes"));
    setAccessibleName(tr("Marks of other settings"));
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setToolTip(tr("Marks of other settings. Drag to move, double click to type, or on the lane to set one."));
    for (const auto signal : {&Document::projectChanged, &Document::opened})
        connect(&document, signal, this, &MarkLanes::refresh);
    connect(&document, &Document::frameChanged, this, &MarkLanes::refresh);
    connect(&state, &DeskState::changed, this, qOverload<>(&QWidget::update));
    refresh();
}

void MarkLanes::setDeskPlace(int left, int width)
{
    m_left = left;
    m_width = width;
    update();
}

void MarkLanes::refresh()
{
    m_lanes.clear();
    for (const auto& [id, marks] : m_document.shot().tracks)
        if (id != setting::focusDistance) m_lanes.push_back(id);
    std::stable_sort(m_lanes.begin(), m_lanes.end(), [](const SettingPath& a, const SettingPath& b) {
        return project::shotSettings().order(a.text()) < project::shotSettings().order(b.text());
    });
    setFixedHeight(static_cast<int>(m_lanes.size()) * kLane);
    setVisible(!m_lanes.empty());
    update();
}

FrameScale MarkLanes::frames() const
{
    return {m_state.leftFrame(), m_state.rightFrame(), m_left + 8.0, m_width - 16.0};
}

QPoint MarkLanes::pointFor(const SettingPath& id, int frame) const
{
    const auto it = std::find(m_lanes.begin(), m_lanes.end(), id);
    return QPointF(frames().toX(frame), (it - m_lanes.begin() + 0.5) * kLane).toPoint();
}

std::optional<MarkLanes::At> MarkLanes::at(QPointF pos) const
{
    const auto lane = static_cast<std::size_t>(std::max(0.0, pos.y() / kLane));
    if (lane >= m_lanes.size()) return std::nullopt;
    At found{m_lanes[lane], kNoMark};
    double nearest = kLaneGrab;
    for (const auto& mark : m_document.marks(found.id)) {
        const double far = std::abs(frames().toX(mark.frame) - pos.x());
        if (far > nearest) continue;
        nearest = far;
        found.frame = mark.frame;
    }
    return found;
}

void MarkLanes::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.fillRect(rect(), style::panel);
    painter.setRenderHint(QPainter::Antialiasing);
    for (std::size_t i = 0; i < m_lanes.size(); ++i)
        paintLane(painter, m_lanes[i], static_cast<double>(i) * kLane);
    if (hasFocus() && m_current < m_lanes.size())
        style::keysFrame(painter, QRectF(0, static_cast<double>(m_current) * kLane, width(), kLane));
}

/// Up and down choose a lane; Enter opens its mark here, or sets one, and Delete takes it away.
void MarkLanes::keyPressEvent(QKeyEvent* event)
{
    if (m_lanes.empty()) {
        QWidget::keyPressEvent(event);
        return;
    }
    m_current = std::min(m_current, m_lanes.size() - 1);
    const SettingPath id = m_lanes[m_current];
    const int frame = m_document.frame();
    const bool isHere = timeline::markOn(m_document.marks(id), frame) != nullptr;
    switch (event->key()) {
    case Qt::Key_Up:
        if (m_current > 0) --m_current;
        break;
    case Qt::Key_Down:
        m_current = std::min(m_current + 1, m_lanes.size() - 1);
        break;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (isHere)
            emit markCardAsked(id, frame, pointFor(id, frame));
        else
            m_document.setMarkHere(id);
        break;
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
        if (isHere) m_document.removeMark(id, frame);
        break;
    default:
        QWidget::keyPressEvent(event);
        return;
    }
    update();
}

void MarkLanes::paintLane(QPainter& painter, const SettingPath& id, double top) const
{
    const FrameScale scale = frames();
    const QRectF lane(scale.x0, top + 1, scale.width, kLane - 2);
    painter.fillRect(lane, style::well);
    const auto info = project::infoOf(id);
    painter.setFont(style::textFont(8.5));
    painter.setPen(style::dimText);
    const QString value = settingFormat(id, m_document.project()).toText(info->get(m_document.values()));
    const QRectF words(10, top, m_left - 14, kLane);
    painter.drawText(words, Qt::AlignVCenter | Qt::AlignRight, value);
    const int room = static_cast<int>(words.width()) - painter.fontMetrics().horizontalAdvance(value) - 8;
    painter.setPen(style::text);
    painter.drawText(
        words, Qt::AlignVCenter | Qt::AlignLeft,
        painter.fontMetrics().elidedText(settingTitle(id, m_document.values()), Qt::ElideRight, room));

    const auto& marks = m_document.marks(id);
    double least = marks.front().value;
    double most = least;
    for (const auto& mark : marks) {
        least = std::min(least, mark.value);
        most = std::max(most, mark.value);
    }
    const auto& project = m_document.project();
    const timeline::FrameRange range = project.framesOf(project.shotIndexAt(m_document.frame()));
    painter.save();
    painter.setClipRect(lane);
    QPolygonF way;
    for (double x = std::max(lane.left(), scale.toX(range.first - 0.5));
         x <= std::min(lane.right(), scale.toX(range.last + 0.5)); x += 1.0) {
        const double at = *timeline::valueAt(marks, scale.toFrame(x), *info->blend);
        const double share = most > least ? (at - least) / (most - least) : 0.5;
        way.append({x, lane.bottom() - 3 - share * (lane.height() - 6)});
    }
    painter.setPen(QPen(style::dimText, 1.2));
    painter.drawPolyline(way);
    const double here = scale.toX(m_document.frame());
    painter.setPen(QPen(style::text, 1));
    painter.drawLine(QPointF(here, lane.top()), QPointF(here, lane.bottom()));
    painter.restore();
    for (const auto& mark : marks) {
        const double x = scale.toX(mark.frame);
        if (x < lane.left() - 1 || x > lane.right() + 1) continue;
        const QPointF p(x, lane.center().y());
        const bool chosen = m_state.isChosen(id, mark.frame);
        const QPointF diamond[4] = {p + QPointF(0, -5.5), p + QPointF(5.5, 0), p + QPointF(0, 5.5),
                                    p + QPointF(-5.5, 0)};
        painter.setPen(QPen(chosen ? style::text : style::well, chosen ? 2.0 : 1.0));
        painter.setBrush(chosen ? style::raised : style::dimText);
        painter.drawPolygon(diamond, 4);
    }
}

void MarkLanes::mousePressEvent(QMouseEvent* event)
{
    const auto found = at(event->position());
    if (event->button() != Qt::LeftButton || !found) return;
    if (found->frame == kNoMark) {
        m_state.choose(found->id, {});
        m_document.setFrame(static_cast<int>(std::lround(frames().toFrame(event->position().x()))));
        return;
    }
    if (event->modifiers() & Qt::ControlModifier)
        m_state.toggle(found->id, found->frame);
    else if (!m_state.isChosen(found->id, found->frame))
        m_state.choose(found->id, {found->frame});
    m_dragging = true;
    m_pressed = event->position();
    m_pressMarks = m_document.marks(found->id);
    m_pressChosen = m_state.chosen();
    m_gesture = newGesture();
}

void MarkLanes::mouseMoveEvent(QMouseEvent* event)
{
    if (!m_dragging) {
        const auto found = at(event->position());
        setCursor(found && found->frame != kNoMark ? Qt::SizeHorCursor : Qt::ArrowCursor);
        return;
    }
    const auto& project = m_document.project();
    const double dx = (event->position().x() - m_pressed.x()) / frames().pxPerFrame();
    const int by = timeline::allowedShift(m_pressMarks, m_pressChosen, static_cast<int>(std::lround(dx)),
                                          project.framesOf(project.shotIndexAt(m_document.frame())));
    timeline::ChosenFrames chosen = m_pressChosen;
    const SettingPath id = m_state.chosenSetting();
    if (chosen.empty()) return;
    m_document.editMarks(
        chosen.size() == 1 ? tr("move mark at %1").arg(*chosen.begin() + by)
                           : tr("move %1 marks").arg(chosen.size()),
        id, m_document.frame(),
        [&](timeline::Marks& marks) {
            marks = m_pressMarks;
            timeline::moveMarks(marks, chosen, by, [](double value) { return value; });
        },
        m_gesture);
    m_state.choose(id, std::move(chosen));
}

void MarkLanes::mouseReleaseEvent(QMouseEvent*)
{
    m_dragging = false;
}

void MarkLanes::mouseDoubleClickEvent(QMouseEvent* event)
{
    m_dragging = false;
    const auto found = at(event->position());
    if (!found) return;
    if (found->frame != kNoMark) {
        emit markCardAsked(found->id, found->frame, event->position().toPoint());
        return;
    }
    m_document.setFrame(static_cast<int>(std::lround(frames().toFrame(event->position().x()))));
    m_document.setMarkHere(found->id);
}

void MarkLanes::contextMenuEvent(QContextMenuEvent* event)
{
    const auto found = at(event->pos());
    if (!found) return;
    QMenu menu(this);
    if (found->frame != kNoMark) {
        if (!m_state.isChosen(found->id, found->frame)) m_state.choose(found->id, {found->frame});
        menu.addAction(tr("Type its values…"), this, [this, found, pos = event->pos()] {
            emit markCardAsked(found->id, found->frame, pos);
        });
        menu.addAction(m_state.chosen().size() > 1 ? tr("Delete marks") : tr("Delete mark"), this, [this] {
            m_document.editMarks(tr("delete marks"), m_state.chosenSetting(), m_document.frame(),
                                 [chosen = m_state.chosen()](timeline::Marks& marks) {
                                     timeline::removeMarks(marks, chosen);
                                 });
        });
    } else {
        const int here = static_cast<int>(std::lround(frames().toFrame(event->pos().x())));
        menu.addAction(tr("Set mark at %1").arg(here), this, [this, found, here] {
            m_document.setFrame(here);
            m_document.setMarkHere(found->id);
        });
    }
    menu.exec(event->globalPos());
}

} // namespace retinex::app
