#pragma once

#include "app/document/document.h"
#include "app/jobs/picture_maker.h"
#include "app/views/image_view_map.h"

#include <QWidget>

namespace retinex::app {

/// The picture: zoom on the pointer, pan, and with the focus tool a click that puts the focal plane there.
class PictureView : public QWidget
{
    Q_OBJECT

public:
    explicit PictureView(Document& document, QWidget* parent = nullptr);

    void show(const Picture& picture);
    void clear();
    /// Words for when there is no picture; empty for the usual ones.
    void setIdleText(const QString& text);
    [[nodiscard]] const Picture& picture() const noexcept { return m_picture; }
    [[nodiscard]] const ImageViewMap& map() const noexcept { return m_map; }
    /// Widget position of an image pixel's centre.
    [[nodiscard]] QPoint viewPoint(int imageX, int imageY) const;

    void fit();
    void oneToOne();
    void zoomStep(double factor);

signals:
    /// Image pixel under the pointer; (-1, -1) outside the picture.
    void pointed(int x, int y);
    void focusPicked(double distance);
    void gapPicked(int x, int y);
    void zoomChanged(double scale);

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void keyReleaseEvent(QKeyEvent* event) override;

private:
    void paintIdle(QPainter& painter) const;
    void paintZones(QPainter& painter);
    void paintDepthLegend(QPainter& painter) const;
    void paintZonesLegend(QPainter& painter) const;
    void pickFocus(QPoint at);
    void mapChanged();
    void updateCursor();

    Document& m_document;
    Picture m_picture;
    ImageViewMap m_map;
    QString m_idleText;
    QImage m_zones; ///< cached overlay; null when it must be drawn anew
    QPoint m_lastPos;
    bool m_panning = false;
    bool m_spaceHeld = false;
};

} // namespace retinex::app
