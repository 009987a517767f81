#include "app/views/picture_view.h"

#include "app/views/style.h"
#include "app/views/zones_overlay.h"
#include "core/optics/units.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>
#include <optional>
#include <vector>

namespace retinex::app {

namespace {

/// Median of the finite distances of the 3 x 3 pixels around (x, y) that lie on the surface of the middle
/// one; nothing in a gap.
std::optional<double> distanceUnder(const Plane<float>& distance, int x, int y)
{
    const float middle = distance.at(x, y);
    if (!std::isfinite(middle)) return std::nullopt;
    std::vector<float> values;
    for (int dy = -1; dy <= 1; ++dy) {
        for (int dx = -1; dx <= 1; ++dx) {
            if (!distance.contains(x + dx, y + dy)) continue;
            const float value = distance.at(x + dx, y + dy);
            if (std::isfinite(value) && std::abs(value - middle) < 0.02F * middle) values.push_back(value);
        }
    }
    std::nth_element(values.begin(), values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2),
                     values.end());
    return static_cast<double>(values[values.size() / 2]);
}

/// A dark plate behind words that lie on the picture.
void plate(QPainter& painter, const QRectF& rect)
{
    painter.fillRect(rect, QColor(20, 20, 20, 210));
    painter.setPen(style::line);
    painter.drawRect(rect.adjusted(0.5, 0.5, -0.5, -0.5));
}

} // namespace

PictureView::PictureView(Document& document, QWidget* parent) : QWidget(parent), m_document(document)
{
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(240, 160);
    setObjectName(QStringLiteral("picture"));
    setAccessibleName(tr("Picture"));
    connect(&document, &Document::projectChanged, this, [this] {
        m_zones = {};
        update();
    });
    updateCursor();
}

void PictureView::show(const Picture& picture)
{
    const bool first = m_picture.image.isNull();
    m_picture = picture;
    if (picture.passes) {
        m_map.setImageSize(QSizeF(picture.passes->distance.width(), picture.passes->distance.height()));
        m_map.setPixelAspect(picture.passes->raw->pixelAspect);
    }
    m_zones = {};
    if (first) mapChanged();
    updateCursor();
    update();
}

void PictureView::clear()
{
    m_picture = {};
    m_map.fit();
    updateCursor();
    mapChanged();
}

QPoint PictureView::viewPoint(int imageX, int imageY) const
{
    return m_map.toView(QPointF(imageX + 0.5, imageY + 0.5)).toPoint();
}

void PictureView::updateCursor()
{
    setCursor(m_panning || m_spaceHeld   ? Qt::ClosedHandCursor
              : m_picture.image.isNull() ? Qt::ArrowCursor
                                         : Qt::CrossCursor);
}

void PictureView::mapChanged()
{
    m_zones = {};
    emit zoomChanged(m_picture.image.isNull() ? 0.0 : m_map.scale() * devicePixelRatioF());
    update();
}

void PictureView::fit()
{
    m_map.fit();
    mapChanged();
}

void PictureView::oneToOne()
{
    m_map.oneToOne(devicePixelRatioF(), QRectF(rect()).center());
    mapChanged();
}

void PictureView::zoomStep(double factor)
{
    const QPoint pointer = mapFromGlobal(QCursor::pos());
    m_map.zoomBy(factor, rect().contains(pointer) ? QPointF(pointer) : QRectF(rect()).center());
    mapChanged();
}

void PictureView::paintEvent(QPaintEvent*)
{
    QPainter painter(this);
    painter.fillRect(rect(), style::surround);
    if (m_picture.image.isNull() || !m_idleText.isEmpty()) {
        paintIdle(painter);
        return;
    }
    const QRectF target = m_map.imageRect();
    // Shown larger than life, pixels are pixels; a coarse picture is always smoothed.
    painter.setRenderHint(QPainter::SmoothPixmapTransform, m_map.scale() < 2.0 || m_picture.divisor > 1);
    painter.drawImage(target, m_picture.image);
    painter.setFont(style::textFont(8.5));
    if (m_picture.mode == ViewMode::zones) {
        paintZones(painter);
        paintZonesLegend(painter);
    } else if (m_picture.mode == ViewMode::depth && m_picture.passes->range.hasSurface()) {
        paintDepthLegend(painter);
    }
}

void PictureView::setIdleText(const QString& text)
{
    m_idleText = text;
    update();
}

void PictureView::paintIdle(QPainter& painter) const
{
    painter.setPen(style::text);
    if (!m_idleText.isEmpty()) {
        painter.setFont(style::textFont(11));
        painter.drawText(rect(), Qt::AlignCenter, m_idleText);
        return;
    }
    if (m_document.isOpen()) return; // a message says why there is no picture
    const QRectF middle = QRectF(rect()).adjusted(20, 0, -20, 0);
    painter.setFont(style::textFont(13));
    painter.drawText(middle.translated(0, -18), Qt::AlignCenter,
                     tr("Drop a rendered frame with its depth pass here"));
    painter.setFont(style::textFont(9.5));
    painter.setPen(style::dimText);
    painter.drawText(
        middle.translated(0, 14), Qt::AlignCenter,
        tr("one EXR with both, or one of each; any frame of a sequence, a folder or a project (Ctrl+O)"));
}

void PictureView::paintZones(QPainter& painter)
{
    const double ratio = devicePixelRatioF();
    if (m_zones.isNull()) {
        m_zones = zonesOverlay(m_picture.passes->distance, m_document.project(), m_picture.frame, m_map,
                               (QSizeF(size()) * ratio).toSize(), ratio);
        m_zones.setDevicePixelRatio(ratio);
    }
    painter.drawImage(QPointF(0, 0), m_zones);
}

void PictureView::paintZonesLegend(QPainter& painter) const
{
    const auto& project = m_document.project();
    const auto zone = optics::sharpZone(project.lensAt(m_picture.frame), project.acceptedCocMm);
    const struct
    {
        QColor colour;
        QString name;
        double metres;
    } rows[3] = {{style::farSide, tr("far limit"), zone.farMm / 1000.0},
                 {style::focal, tr("focal plane"), project.metres(project.focusDistanceAt(m_picture.frame))},
                 {style::nearSide, tr("near limit"), zone.nearMm / 1000.0}};
    const QRectF box(10.5, height() - 72.5, 206, 62);
    plate(painter, box);
    for (int i = 0; i < 3; ++i) {
        const double y = box.top() + 15 + 18 * i;
        painter.setPen(QPen(rows[i].colour, 2));
        painter.drawLine(QPointF(box.left() + 8, y), QPointF(box.left() + 30, y));
        painter.setPen(style::text);
        painter.setFont(style::textFont(8.5));
        painter.drawText(QPointF(box.left() + 38, y + 4), rows[i].name);
        painter.setFont(style::numberFont(8.5));
        painter.drawText(QRectF(box.left() + 100, y - 8, box.width() - 108, 16),
                         Qt::AlignRight | Qt::AlignVCenter,
                         QString::fromStdString(optics::formatDistance(rows[i].metres, project.unit)));
    }
}

void PictureView::paintDepthLegend(QPainter& painter) const
{
    const auto& project = m_document.project();
    const QRectF box(10.5, height() - 190.5, 108, 180);
    plate(painter, box);
    const double low = std::log(m_picture.distanceNearest);
    const double high = std::log(m_picture.distanceFarthest);
    const QRectF ramp(box.left() + 10, box.top() + 14, 16, 128);
    for (int i = 0; i < static_cast<int>(ramp.height()); ++i) {
        const int grey = static_cast<int>(40.0 + 200.0 * i / ramp.height());
        painter.fillRect(QRectF(ramp.left(), ramp.top() + i, ramp.width(), 1.2), QColor(grey, grey, grey));
    }
    painter.setFont(style::numberFont(8.5));
    painter.setPen(style::text);
    for (int i = 0; i <= 4; ++i) {
        const double y = ramp.top() + ramp.height() * i / 4.0;
        const double distance = std::exp(high + (low - high) * i / 4.0);
        painter.drawLine(QPointF(ramp.right() + 2, y), QPointF(ramp.right() + 6, y));
        painter.drawText(QPointF(ramp.right() + 10, y + 4), QString::fromStdString(optics::formatDistance(
                                                                project.metres(distance), project.unit)));
    }
    const QRectF gap(ramp.left(), box.bottom() - 24, 16, 14);
    painter.setPen(style::line);
    painter.setBrush(QBrush(QColor(54, 54, 54), Qt::BDiagPattern));
    painter.drawRect(gap);
    painter.setPen(style::text);
    painter.setFont(style::textFont(8.5));
    painter.drawText(QPointF(gap.right() + 10, gap.bottom() - 3), tr("gap"));
}

void PictureView::resizeEvent(QResizeEvent*)
{
    m_map.setViewSize(QSizeF(size()));
    mapChanged();
}

void PictureView::mousePressEvent(QMouseEvent* event)
{
    m_lastPos = event->pos();
    if (event->button() == Qt::MiddleButton || (event->button() == Qt::LeftButton && m_spaceHeld))
        m_panning = true;
    else if (event->button() == Qt::LeftButton && m_picture.passes)
        pickFocus(event->pos());
    updateCursor();
}

void PictureView::mouseMoveEvent(QMouseEvent* event)
{
    if (m_panning) {
        m_map.panBy(event->pos() - m_lastPos);
        mapChanged();
    }
    m_lastPos = event->pos();
    const QPointF image = m_map.toImage(event->position());
    const int x = static_cast<int>(std::floor(image.x()));
    const int y = static_cast<int>(std::floor(image.y()));
    const bool inside = m_picture.passes && m_picture.passes->distance.contains(x, y);
    emit pointed(inside ? x : -1, inside ? y : -1);
}

void PictureView::mouseReleaseEvent(QMouseEvent*)
{
    m_panning = false;
    updateCursor();
}

void PictureView::leaveEvent(QEvent*)
{
    emit pointed(-1, -1);
}

void PictureView::wheelEvent(QWheelEvent* event)
{
    m_map.zoomBy(std::pow(1.2, event->angleDelta().y() / 120.0), event->position());
    mapChanged();
    event->accept();
}

void PictureView::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Space && !event->isAutoRepeat()) {
        m_spaceHeld = true;
        updateCursor();
        return;
    }
    QWidget::keyPressEvent(event);
}

void PictureView::keyReleaseEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Space && !event->isAutoRepeat()) {
        m_spaceHeld = false;
        updateCursor();
        return;
    }
    QWidget::keyReleaseEvent(event);
}

void PictureView::pickFocus(QPoint at)
{
    const QPointF image = m_map.toImage(QPointF(at));
    const int x = static_cast<int>(std::floor(image.x()));
    const int y = static_cast<int>(std::floor(image.y()));
    if (!m_picture.passes->distance.contains(x, y)) return;
    if (const auto distance = distanceUnder(m_picture.passes->distance, x, y))
        emit focusPicked(*distance);
    else
        emit gapPicked(x, y);
}

} // namespace retinex::app
