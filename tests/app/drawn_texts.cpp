#include "app/drawn_texts.h"

#include <QFontMetricsF>
#include <QGuiApplication>
#include <QPaintDevice>
#include <QPaintEngine>
#include <QPainter>

namespace retinex::test {

namespace {

/// Keeps what is written, and draws nothing.
class TextEngine : public QPaintEngine
{
public:
    TextEngine(QRectF device, std::vector<DrawnText>& texts)
        : QPaintEngine(AllFeatures), m_device(device), m_texts(texts)
    {
    }

    bool begin(QPaintDevice*) override { return true; }
    bool end() override { return true; }
    void updateState(const QPaintEngineState&) override {}
    void drawPixmap(const QRectF&, const QPixmap&, const QRectF&) override {}
    void drawPath(const QPainterPath&) override {}
    void drawImage(const QRectF&, const QImage&, const QRectF&, Qt::ImageConversionFlags) override {}
    void drawPolygon(const QPointF* points, int count, PolygonDrawMode) override
    {
        // What a plate is laid over is not to be read any more.
        const QBrush brush = painter()->brush();
        if (brush.style() != Qt::SolidPattern || brush.color().alpha() < kCovers) return;
        QPolygonF area;
        for (int i = 0; i < count; ++i)
            area << points[i];
        cover(painter()->combinedTransform().map(area).boundingRect());
    }
    void drawRects(const QRectF* rects, int count) override
    {
        const QBrush brush = painter()->brush();
        if (brush.style() != Qt::SolidPattern || brush.color().alpha() < kCovers) return;
        for (int i = 0; i < count; ++i)
            cover(painter()->combinedTransform().mapRect(rects[i]));
    }
    void drawTextItem(const QPointF& at, const QTextItem& item) override
    {
        const QString text = item.text();
        if (text.trimmed().isEmpty()) return;
        const QTransform place = painter()->combinedTransform();
        QRectF ink = QFontMetricsF(item.font()).tightBoundingRect(text);
        ink.setRight(std::min(ink.right(), item.width())); // hinted letters are narrower
        QRectF seen = m_device;
        if (painter()->hasClipping()) seen &= place.mapRect(painter()->clipBoundingRect());
        m_texts.push_back({text, place.mapRect(ink.translated(at)), seen, painter()->pen().color()});
    }
    [[nodiscard]] Type type() const override { return User; }

private:
    static constexpr int kCovers = 150; ///< alpha, of 255
    void cover(const QRectF& area)
    {
        std::erase_if(m_texts, [&](const DrawnText& text) { return area.intersects(text.box); });
    }

    QRectF m_device;
    std::vector<DrawnText>& m_texts;
};

class TextDevice : public QPaintDevice
{
public:
    explicit TextDevice(const QWidget& widget)
        : m_widget(widget), m_engine(QRectF(QPointF(0, 0), QSizeF(widget.size())), texts)
    {
    }
    [[nodiscard]] QPaintEngine* paintEngine() const override { return &m_engine; }

    std::vector<DrawnText> texts;

protected:
    [[nodiscard]] int metric(PaintDeviceMetric metric) const override
    {
        switch (metric) {
        case PdmWidth:
            return m_widget.width();
        case PdmHeight:
            return m_widget.height();
        case PdmDpiX:
        case PdmPhysicalDpiX:
            return m_widget.logicalDpiX();
        case PdmDpiY:
        case PdmPhysicalDpiY:
            return m_widget.logicalDpiY();
        case PdmDepth:
            return 32;
        case PdmDevicePixelRatio:
            return 1;
        default:
            return QPaintDevice::metric(metric);
        }
    }

private:
    const QWidget& m_widget;
    mutable TextEngine m_engine;
};

} // namespace

std::vector<DrawnText> drawnTexts(QWidget& widget)
{
    TextDevice device(widget);
    widget.render(&device, QPoint(), QRegion(), QWidget::RenderFlags());
    return device.texts;
}

} // namespace retinex::test
