// How regions are shown over the picture: the second half of RegionTools.
#include "app/picture/region_shapes.h"
#include "app/picture/region_tools.h"
#include "core/frame/places/region_places.h"
#include "core/regions/outline_path.h"
#include "core/system/error.h"

#include <algorithm>

namespace retinex::app {

namespace {

using regions::PieceKind;
using regions::Point;
using regions::Region;

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
    const bool isAll = chosen && chosen->area.pieces().size() == 1 &&
                       chosen->area.pieces().front().kind == PieceKind::whole && !chosen->inverted;
    if (!m_area.empty() && chosen && !isAll && !m_points.isDragging())
        painter.drawImage(QPointF(0, 0), hatching(map, view, painter.device()->devicePixelRatioF()));
    for (const Region& each : m_document.values().regions)
        paintRegion(painter, map, each, frame);
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
    for (const regions::PlacedPiece& piece : placed.pieces) {
        QPolygonF outline;
        for (const Point& point : piece.polygon)
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
