#include "app/picture/tools/depth_tools.h"

#include "app/look/style.h"

namespace retinex::app {

bool PickTool::press(const Hand& hand)
{
    if (m_onlyInDepth && m_picture.mode != ViewMode::depth) return false;
    if (const QPoint pixel = pixelAt(hand); isInFrame(m_picture, pixel)) emit picked(pixel);
    return true;
}

bool DragTool::press(const Hand& hand)
{
    if (m_picture.mode != ViewMode::depth) return false;
    m_at = hand.at;
    if (const QPoint pixel = pixelAt(hand); isInFrame(m_picture, pixel)) m_from = pixel;
    return true;
}

void DragTool::move(const Hand& hand)
{
    m_at = hand.at;
    if (m_from) emit changed();
}

void DragTool::release(const Hand& hand)
{
    if (!m_from) return;
    const QPoint from = *std::exchange(m_from, std::nullopt);
    emit changed();
    emit dragged(from, pixelAt(hand));
}

void DragTool::paint(QPainter& painter, const ImageViewMap& map)
{
    if (!m_from) return;
    const QPointF from = map.toView(QPointF(*m_from) + QPointF(0.5, 0.5));
    for (const auto& [colour, width] : {std::pair{QColor(20, 20, 20), 3.0}, std::pair{style::text, 1.2}}) {
        painter.setPen(QPen(colour, width));
        if (m_shape == Shape::line)
            painter.drawLine(from, m_at);
        else
            painter.drawRect(QRectF(from, m_at).normalized());
    }
}

} // namespace retinex::app
