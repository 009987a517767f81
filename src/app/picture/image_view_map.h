#pragma once

#include <QPointF>
#include <QRectF>
#include <QSizeF>

namespace retinex::app {

/// Where the picture lies in the view: zoom and pan as a plain value. Image coordinates are px of the full
/// frame, pixel centres at +0.5; view coordinates are widget px.
class ImageViewMap
{
public:
    void setImageSize(QSizeF size) { m_image = size, m_dirty = true; }
    void setViewSize(QSizeF size) { m_view = size, m_dirty = true; }
    [[nodiscard]] QSizeF view() const noexcept { return m_view; }
    void setPixelAspect(double aspect) { m_aspect = aspect, m_dirty = true; }

    void fit();
    void oneToOne(double devicePixelRatio, QPointF aroundView);
    /// Zooms by `factor`, keeping what is under `aroundView` in place.
    void zoomBy(double factor, QPointF aroundView);
    void panBy(QPointF viewDelta);
    /// Steps back as far as needed to have all of a rectangle of the picture in the view, with some room.
    void stepBackTo(const QRectF& image);

    [[nodiscard]] bool isFitted() const noexcept { return m_fitted; }
    [[nodiscard]] double scale() const; ///< view px per image px (rows)
    [[nodiscard]] QPointF toImage(QPointF view) const;
    [[nodiscard]] QPointF toView(QPointF image) const;
    [[nodiscard]] QRectF imageRect() const; ///< of the whole picture, in the view

private:
    void update() const;

    QSizeF m_image{1, 1};
    QSizeF m_view{1, 1};
    double m_aspect = 1.0;
    mutable double m_scale = 1.0;
    mutable QPointF m_offset;
    mutable bool m_dirty = true;
    bool m_fitted = true;
};

} // namespace retinex::app
