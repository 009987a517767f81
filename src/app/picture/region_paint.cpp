// How regions are shown over the picture: the second half of RegionTools.
#include "app/picture/region_shapes.h"
#include "app/picture/region_tools.h"
#include "core/frame/places/region_places.h"
#include "core/regions/outline_path.h"
#include "core/system/error.h"

#include <algorithm>

namespace retinex::app {

namespace {

using regions::OutlinePoint;
using regions::PartKind;
using regions::Point;
using regions::Region;
using regions::Turn;

constexpr double kPointSize = 7.0; ///< view px

} // namespace

void RegionTools::paint(QPainter& painter, const ImageViewMap& map, QSize view, int frame)
{
    if (m_isAlone && !m_area.empty()) {
        QImage grey(m_area.width(), m_area.height(), QImage::Format_Grayscale8);
        for (int y = 0; y < m_area.height(); ++y)
            for (int x = 0; x < m_area.width(); ++x)
                grey.scanLine(y)[x] =
                    static_cast<uchar>(std::lround(255.0F * std::clamp(m_area.at(x, y), 0.0F, 1.0F)));
        painter.drawImage(map.imageRect(), grey);
        return;
    }
    if (!isShown()) return;
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    // All of the picture needs no hatching to be seen.
    const Region* chosen = region();
    const bool isAll = chosen && chosen->area.parts().size() == 1 &&
                       chosen->area.parts().front().kind == PartKind::whole && !chosen->inverted;
    if (!m_area.empty() && chosen && !isAll && m_grip.what == Grip::What::none)
        painter.drawImage(QPointF(0, 0), hatching(map, view, painter.device()->devicePixelRatioF()));
    for (const Region& each : m_document.values().regions)
        paintRegion(painter, map, each, frame);
    if (m_tool == RegionTool::edit) paintGrips(painter, map, frame);
    paintDrawing(painter, map);
    style::hintPlate(painter, view, hint());
    painter.restore();
}

void RegionTools::paintRegion(QPainter& painter, const ImageViewMap& map, const Region& each, int frame) const
{
    const bool isChosen = each.id == m_chosen;
    regions::PlacedRegion placed;
    try {
        placed = frame::placedRegion(*m_document.source(), m_document.project(), each, frame);
    } catch (const Error&) {
        return; // the scene file; Passes says so
    }
    painter.setBrush(Qt::NoBrush);
    std::optional<QPointF> label;
    for (const regions::PlacedPart& part : placed.parts) {
        QPolygonF outline;
        for (const Point& point : part.polygon)
            outline.append(map.toView(toQt(point)));
        if (outline.size() < 2) continue;
        painter.setOpacity(each.isOn ? 1.0 : 0.5);
        twice(painter, isChosen ? 1.6 : 1.0, [&] { painter.drawPolygon(outline); });
        if (!label) label = outline.boundingRect().topLeft();
    }
    painter.setOpacity(1.0);
    if (label && !isChosen) {
        painter.setFont(style::textFont(8.5));
        const QString name = QString::fromStdString(each.name);
        const QRectF box(label->x(), label->y() - 20, painter.fontMetrics().horizontalAdvance(name) + 12, 18);
        style::plate(painter, box);
        painter.setPen(style::text);
        painter.drawText(box, Qt::AlignCenter, name);
    }
    if (!isChosen || each.patch != regions::PatchKind::ramp) return;
    const QPointF from = map.toView(toQt(placed.ramp[0]));
    const QPointF to = map.toView(toQt(placed.ramp[1]));
    twice(painter, 1.2, [&] {
        painter.drawLine(from, to);
        painter.drawEllipse(from, 4.0, 4.0);
        painter.drawEllipse(to, 4.0, 4.0);
    });
    painter.setFont(style::numberFont(8.5));
    const auto& project = m_document.project();
    for (const auto& [at, distance] :
         {std::pair{from, each.rampDistance1}, std::pair{to, each.rampDistance2}}) {
        const QString words =
            QString::fromStdString(optics::formatDistance(project.metres(distance), project.unit));
        const double wide = painter.fontMetrics().horizontalAdvance(words) + 12;
        const double high = painter.viewport().height() / painter.device()->devicePixelRatioF();
        const QRectF box(at.x() + 9, std::min(at.y() - 9, high - 22), wide, 18);
        style::plate(painter, box);
        painter.setPen(style::text);
        painter.drawText(box, Qt::AlignCenter, words);
    }
}

void RegionTools::paintGrips(QPainter& painter, const ImageViewMap& map, int frame) const
{
    const Region* chosen = region();
    if (!chosen) return;
    const regions::Homography place = placement();
    const auto& parts = chosen->area.parts();
    for (std::size_t part = 0; part < parts.size(); ++part) {
        const auto points = regions::pointsAt(parts[part].outline, frame);
        for (std::size_t i = 0; i < points.size(); ++i) {
            const OutlinePoint& point = points[i];
            const QPointF at = map.toView(toQt(place(point.at)));
            if (point.turn == Turn::own) {
                for (const Point& handle : {point.arriving, point.leaving}) {
                    const QPointF end =
                        map.toView(toQt(place({point.at.x + handle.x, point.at.y + handle.y})));
                    twice(painter, 1.0, [&] { painter.drawLine(at, end); });
                    painter.setBrush(style::text);
                    painter.setPen(QPen(QColor(20, 20, 20), 1));
                    painter.drawEllipse(end, 3.5, 3.5);
                }
            }
            const bool isSelected =
                m_selected.what == Grip::What::point && m_selected.part == part && m_selected.point == i;
            painter.setPen(QPen(QColor(20, 20, 20), 1.2));
            painter.setBrush(isSelected ? QColor(20, 20, 20) : style::text);
            const double half = 0.5 * kPointSize;
            const QRectF box(at.x() - half, at.y() - half, kPointSize, kPointSize);
            if (isSelected) painter.setPen(QPen(style::text, 1.6));
            if (point.turn == Turn::corner)
                painter.drawRect(box);
            else
                painter.drawEllipse(box);
            painter.setBrush(Qt::NoBrush);
        }
    }
}

void RegionTools::paintDrawing(QPainter& painter, const ImageViewMap& map) const
{
    painter.setBrush(Qt::NoBrush);
    if (!m_points.empty()) {
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
    if (m_from) {
        const QRectF box = QRectF(map.toView(toQt(*m_from)), m_at).normalized();
        twice(painter, 1.2, [&] {
            if (m_tool == RegionTool::ellipse)
                painter.drawEllipse(box);
            else
                painter.drawRect(box);
        });
    }
    if (m_tool != RegionTool::brush) return;
    const double radius = m_brush.radiusPx * map.scale();
    if (m_painting) {
        QPainterPath way(map.toView(toQt(m_brush.points.front().at)));
        for (const regions::StrokePoint& point : m_brush.points)
            way.lineTo(map.toView(toQt(point.at)));
        QPainterPathStroker stroker;
        stroker.setWidth(2.0 * radius);
        stroker.setCapStyle(Qt::RoundCap);
        stroker.setJoinStyle(Qt::RoundJoin);
        const QPainterPath outline = stroker.createStroke(way).simplified();
        painter.fillPath(outline, QBrush(QColor(245, 245, 245, 150),
                                         m_brush.erases ? Qt::FDiagPattern : Qt::BDiagPattern));
        twice(painter, 1.0, [&] { painter.drawPath(outline); });
    }
    twice(painter, 1.0, [&] { painter.drawEllipse(m_at, radius, radius); });
    painter.setPen(QPen(style::text, 1.0, Qt::DotLine));
    const double hard = radius * (1.0 - m_brush.softness);
    if (hard > 1.0) painter.drawEllipse(m_at, hard, hard);
}

/// Slanted lines, each a light one beside a dark one, as strong as the area covers.
QImage RegionTools::hatching(const ImageViewMap& map, QSize view, double ratio) const
{
    const QSize size = (QSizeF(view) * ratio).toSize();
    const QPointF origin = map.toImage(QPointF(0, 0));
    const QString key = QStringLiteral("%1 %2 %3 %4 %5")
                            .arg(origin.x())
                            .arg(origin.y())
                            .arg(map.scale())
                            .arg(size.width())
                            .arg(size.height());
    if (key == m_hatchingKey) return m_hatching;
    m_hatchingKey = key;
    const int step = static_cast<int>(std::lround(9 * ratio));
    const int thick = std::max(1, static_cast<int>(std::lround(ratio)));
    m_hatching = QImage(size, QImage::Format_ARGB32_Premultiplied);
    m_hatching.fill(Qt::transparent);
    parallelFor(size.height(), {}, [&](int y) {
        auto* line = reinterpret_cast<QRgb*>(m_hatching.bits() +
                                             static_cast<qsizetype>(y) * m_hatching.bytesPerLine());
        for (int x = 0; x < size.width(); ++x) {
            const int phase = (x + y) % step;
            if (phase >= 2 * thick) continue;
            const QPointF at = map.toImage(QPointF(x + 0.5, y + 0.5) / ratio);
            const int ix = static_cast<int>(std::floor(at.x()));
            const int iy = static_cast<int>(std::floor(at.y()));
            if (!m_area.contains(ix, iy)) continue;
            const float share = m_area.at(ix, iy);
            if (share <= 0.02F) continue;
            const int alpha = static_cast<int>(std::lround(190.0F * std::min(1.0F, share)));
            line[x] = phase < thick ? qPremultiply(qRgba(245, 245, 245, alpha))
                                    : qPremultiply(qRgba(0, 0, 0, alpha * 3 / 4));
        }
    });
    m_hatching.setDevicePixelRatio(ratio);
    return m_hatching;
}

} // namespace retinex::app
