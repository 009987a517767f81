#include "app/picture/tools/subject_tools.h"

#include "app/look/style.h"

namespace retinex::app {

bool SubjectTool::press(const Hand& hand)
{
    m_dragged = m_subjects.at(hand.at, m_document.project(), m_document.frame(), hand.map);
    if (!m_dragged.empty())
        m_gesture = newGesture();
    else if (isInFrame(m_picture, pixelAt(hand)))
        emit placed(hand.map.toImage(hand.at));
    return true;
}

void SubjectTool::move(const Hand& hand)
{
    if (!m_dragged.empty()) emit dragged(m_dragged, hand.map.toImage(hand.at), m_gesture);
}

void SubjectTool::release(const Hand&)
{
    m_dragged.clear();
}

QString SubjectTool::hint() const
{
    return tr("click for each subject, drag one to move it; Escape when done");
}

bool SubjectOutlineTool::press(const Hand& hand)
{
    m_at = hand.at;
    m_corners.append(hand.map.toImage(hand.at));
    emit changed();
    return true;
}

void SubjectOutlineTool::move(const Hand& hand)
{
    m_at = hand.at;
    if (!m_corners.isEmpty()) emit changed();
}

bool SubjectOutlineTool::key(int key)
{
    if (key != Qt::Key_Return && key != Qt::Key_Enter) return false;
    const QPolygonF corners = std::exchange(m_corners, {});
    if (corners.size() >= 3) emit drawn(corners);
    emit changed();
    return true;
}

void SubjectOutlineTool::paint(QPainter& painter, const ImageViewMap& map)
{
    if (m_corners.isEmpty()) return;
    QPolygonF corners;
    for (const QPointF& corner : m_corners)
        corners.append(map.toView(corner));
    corners.append(m_at);
    for (const auto& [colour, width] : {std::pair{QColor(20, 20, 20), 3.0}, std::pair{style::text, 1.2}}) {
        painter.setPen(QPen(colour, width));
        painter.drawPolyline(corners);
        painter.drawLine(corners.front(), corners.back());
    }
}

QString SubjectOutlineTool::hint() const
{
    return m_corners.isEmpty() ? QString() : tr("click for each corner, then Enter; Escape to leave it");
}

} // namespace retinex::app
