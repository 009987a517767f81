#include "app/picture/image_view_map.h"

#include <algorithm>
#include <cmath>

namespace retinex::app {

namespace {

constexpr double kBeside = 36.0; ///< view px: room for handles beside a picture

} // namespace

void ImageViewMap::update() const
{
    if (!m_dirty) return;
    m_dirty = false;
    if (!m_fitted) return;
    const double width = m_image.width() * m_aspect;
    m_scale = std::max(1e-3, std::min(m_view.width() / width, m_view.height() / m_image.height()));
    m_offset = {0.5 * (m_view.width() - width * m_scale),
                0.5 * (m_view.height() - m_image.height() * m_scale)};
}

void ImageViewMap::fit()
{
    m_fitted = true;
    m_dirty = true;
}

void ImageViewMap::oneToOne(double devicePixelRatio, QPointF aroundView)
{
    zoomBy(1.0 / (devicePixelRatio * scale()), aroundView);
    // Pixel on pixel: not between two of the screen's.
    const auto onPixel = [devicePixelRatio](double at) {
        return std::round(at * devicePixelRatio) / devicePixelRatio;
    };
    m_offset = {onPixel(m_offset.x()), onPixel(m_offset.y())};
}

void ImageViewMap::zoomBy(double factor, QPointF aroundView)
{
    update();
    const QPointF image = toImage(aroundView);
    m_fitted = false;
    m_scale = std::clamp(m_scale * factor, 0.02, 64.0);
    m_offset += aroundView - toView(image);
}

void ImageViewMap::stepBackTo(const QRectF& image)
{
    update();
    const auto inView = [&] { return QRectF(toView(image.topLeft()), toView(image.bottomRight())); };
    QRectF seen = inView();
    const QRectF room = QRectF(QPointF(), m_view).adjusted(kBeside, kBeside, -kBeside, -kBeside);
    if (room.contains(seen) || seen.isEmpty()) return;
    const double factor = std::min({1.0, room.width() / seen.width(), room.height() / seen.height()});
    zoomBy(factor, room.center());
    seen = inView();
    const auto shift = [](double from, double to, double low, double high) {
        return std::max(0.0, low - from) - std::max(0.0, to - high);
    };
    panBy({shift(seen.left(), seen.right(), room.left(), room.right()),
           shift(seen.top(), seen.bottom(), room.top(), room.bottom())});
}

void ImageViewMap::panBy(QPointF viewDelta)
{
    update();
    m_fitted = false;
    m_offset += viewDelta;
    // A corner of the picture always stays in reach.
    const QRectF rect = imageRect();
    m_offset.rx() +=
        std::max(0.0, 40.0 - rect.right()) - std::max(0.0, rect.left() - (m_view.width() - 40.0));
    m_offset.ry() +=
        std::max(0.0, 40.0 - rect.bottom()) - std::max(0.0, rect.top() - (m_view.height() - 40.0));
}

double ImageViewMap::scale() const
{
    update();
    return m_scale;
}

QPointF ImageViewMap::toImage(QPointF view) const
{
    update();
    return {(view.x() - m_offset.x()) / (m_scale * m_aspect), (view.y() - m_offset.y()) / m_scale};
}

QPointF ImageViewMap::toView(QPointF image) const
{
    update();
    return {image.x() * m_scale * m_aspect + m_offset.x(), image.y() * m_scale + m_offset.y()};
}

QRectF ImageViewMap::imageRect() const
{
    return {toView({0, 0}), toView({m_image.width(), m_image.height()})};
}

} // namespace retinex::app
