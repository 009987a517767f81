#include "app/picture/tools/region_draw_tools.h"

#include "app/picture/region_shapes.h"
#include "app/picture/region_tools.h"
#include "core/regions/outline_path.h"

#include <QPainterPath>
#include <algorithm>
#include <cmath>

namespace retinex::app {

namespace {

using regions::OutlinePoint;
using regions::Piece;
using regions::Point;
using regions::Turn;

constexpr double kLeastStep = 1.5;  ///< frame px between the places of a stroke
constexpr double kLeastShape = 2.0; ///< frame px: what is smaller was a click

Point placeOf(const Hand& hand)
{
    return fromQt(hand.map.toImage(hand.at));
}

} // namespace

bool RegionOutlineTool::press(const Hand& hand)
{
    m_at = hand.at;
    if (m_points.size() >= 3) {
        const QPointF away = hand.map.toView(toQt(m_points.front().at)) - hand.at;
        if (std::hypot(away.x(), away.y()) <= kRegionGrab) { // back at the first point
            finish();
            return true;
        }
    }
    m_points.push_back(
        {placeOf(hand), hand.modifiers.testFlag(Qt::ControlModifier) ? Turn::corner : Turn::smooth});
    emit changed();
    return true;
}

void RegionOutlineTool::move(const Hand& hand)
{
    m_at = hand.at;
    if (!m_points.empty()) emit changed();
}

bool RegionOutlineTool::doubleClick(const Hand&)
{
    finish();
    return true;
}

void RegionOutlineTool::finish()
{
    if (m_points.size() < 3) return;
    Piece piece;
    piece.outline = {{m_regions.document().frame(), std::exchange(m_points, {})}};
    m_regions.finishShape(std::move(piece));
}

bool RegionOutlineTool::key(int key)
{
    if ((key == Qt::Key_Return || key == Qt::Key_Enter) && m_points.size() >= 3) {
        finish();
        return true;
    }
    if (key == Qt::Key_Escape && !m_points.empty()) { // what is begun is left
        m_points.clear();
        emit changed();
        return true;
    }
    if (key == Qt::Key_Backspace && !m_points.empty()) {
        m_points.pop_back();
        emit changed();
        return true;
    }
    return m_regions.endsBy(key);
}

void RegionOutlineTool::paint(QPainter& painter, const ImageViewMap& map)
{
    if (m_points.empty()) return;
    painter.setBrush(Qt::NoBrush);
    std::vector<OutlinePoint> points = m_points;
    points.push_back({fromQt(map.toImage(m_at))});
    QPolygonF curve;
    for (const Point& point : regions::outlineCurve(points))
        curve.append(map.toView(toQt(point)));
    twice(painter, 1.2, [&] { painter.drawPolygon(curve); });
    painter.setBrush(style::text);
    painter.setPen(QPen(QColor(20, 20, 20), 1.2));
    for (const OutlinePoint& point : m_points)
        painter.drawEllipse(map.toView(toQt(point.at)), 3.5, 3.5);
    painter.setBrush(Qt::NoBrush);
}

QString RegionOutlineTool::hint() const
{
    return m_points.size() < 3 ? tr("click round the thing; with Ctrl a corner")
                               : tr("click the first point or press Enter to close it; Escape leaves it");
}

bool RegionShapeTool::press(const Hand& hand)
{
    m_at = hand.at;
    m_from = placeOf(hand);
    emit changed();
    return true;
}

void RegionShapeTool::move(const Hand& hand)
{
    m_at = hand.at;
    if (m_from) emit changed();
}

void RegionShapeTool::release(const Hand& hand)
{
    if (!m_from) return;
    const Point to = placeOf(hand);
    const Point from = *std::exchange(m_from, std::nullopt);
    if (std::abs(to.x - from.x) >= kLeastShape && std::abs(to.y - from.y) >= kLeastShape) {
        Piece piece;
        piece.outline = {{m_regions.document().frame(), m_shape == Shape::ellipse
                                                            ? regions::ellipse(from, to)
                                                            : regions::rectangle(from, to)}};
        m_regions.finishShape(std::move(piece));
    }
    emit changed();
}

bool RegionShapeTool::key(int key)
{
    if (key == Qt::Key_Escape && m_from) { // what is begun is left
        m_from.reset();
        emit changed();
        return true;
    }
    return m_regions.endsBy(key);
}

void RegionShapeTool::paint(QPainter& painter, const ImageViewMap& map)
{
    if (!m_from) return;
    painter.setBrush(Qt::NoBrush);
    const QRectF box = QRectF(map.toView(toQt(*m_from)), m_at).normalized();
    twice(painter, 1.2, [&] {
        if (m_shape == Shape::ellipse)
            painter.drawEllipse(box);
        else
            painter.drawRect(box);
    });
}

QString RegionShapeTool::hint() const
{
    return m_shape == Shape::ellipse ? tr("drag an ellipse") : tr("drag a box");
}

bool RegionBrushTool::press(const Hand& hand)
{
    m_at = hand.at;
    m_points = {{placeOf(hand), static_cast<float>(hand.pressure)}};
    emit changed();
    return true;
}

void RegionBrushTool::move(const Hand& hand)
{
    m_at = hand.at;
    if (!m_points.empty()) {
        const Point place = placeOf(hand);
        const Point& last = m_points.back().at;
        const double step = std::max(kLeastStep, 0.05 * m_regions.brush().radiusPx);
        if (std::hypot(last.x - place.x, last.y - place.y) >= step)
            m_points.push_back({place, static_cast<float>(hand.pressure)});
    }
    emit changed(); // its ring goes along
}

void RegionBrushTool::release(const Hand&)
{
    if (m_points.empty()) return;
    regions::Stroke stroke = m_regions.brush();
    stroke.points = std::exchange(m_points, {});
    m_regions.finishStroke(std::move(stroke));
    emit changed();
}

bool RegionBrushTool::key(int key)
{
    if (key == Qt::Key_Escape && !m_points.empty()) { // what is begun is left
        m_points.clear();
        emit changed();
        return true;
    }
    return m_regions.endsBy(key);
}

void RegionBrushTool::paint(QPainter& painter, const ImageViewMap& map)
{
    painter.setBrush(Qt::NoBrush);
    const regions::Stroke& brush = m_regions.brush();
    const double radius = brush.radiusPx * map.scale();
    if (!m_points.empty()) {
        QPainterPath way(map.toView(toQt(m_points.front().at)));
        for (const regions::StrokePoint& point : m_points)
            way.lineTo(map.toView(toQt(point.at)));
        QPainterPathStroker stroker;
        stroker.setWidth(2.0 * radius);
        stroker.setCapStyle(Qt::RoundCap);
        stroker.setJoinStyle(Qt::RoundJoin);
        const QPainterPath outline = stroker.createStroke(way).simplified();
        painter.fillPath(
            outline, QBrush(QColor(245, 245, 245, 150), brush.erases ? Qt::FDiagPattern : Qt::BDiagPattern));
        twice(painter, 1.0, [&] { painter.drawPath(outline); });
    }
    twice(painter, 1.0, [&] { painter.drawEllipse(m_at, radius, radius); });
    painter.setPen(QPen(style::text, 1.0, Qt::DotLine));
    const double hard = radius * (1.0 - brush.softness);
    if (hard > 1.0) painter.drawEllipse(m_at, hard, hard);
}

QString RegionBrushTool::hint() const
{
    return m_regions.brush().erases ? tr("erase; [ and ] change the size, Enter ends")
                                    : tr("paint; [ and ] change the size, Enter ends");
}

} // namespace retinex::app
