#pragma once

#include "app/document/document.h"
#include "app/jobs/depth_survey.h"
#include "app/views/distance_axis.h"

#include <QWidget>

namespace retinex::app {

/// The axis that profile and desk share, so that a height means the same distance in both.
struct SharedAxis
{
    double nearest = 0.1; ///< scene units
    double farthest = 100.0;
    AxisScale scale = AxisScale::log;
    static constexpr int topMargin = 26; ///< px above the axis in both widgets (title, frame numbers)
    static constexpr int bottomMargin = 8;

    [[nodiscard]] DistanceAxis axis(int widgetHeight) const
    {
        return {nearest, farthest, static_cast<double>(std::max(10, widgetHeight - topMargin - bottomMargin)),
                scale};
    }
};

/// The present frame's distances as a histogram growing sideways, with the sharp zone as a band, the focal
/// plane and the limits as handles, and the CoC as a curve.
class DepthProfile : public QWidget
{
    Q_OBJECT

public:
    DepthProfile(Document& document, const DepthSurvey& survey, QWidget* parent = nullptr);

    void setAxis(const SharedAxis& shared);
    enum class Handle { none, focus, nearLimit, farLimit };
    /// Widget position of a handle, for tests and tools.
    [[nodiscard]] QPoint handlePoint(Handle handle) const;

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;

private:
    [[nodiscard]] DistanceAxis axis() const { return m_shared.axis(height()); }
    [[nodiscard]] QRectF plot() const;
    [[nodiscard]] double handleY(Handle handle) const; ///< in the plot
    [[nodiscard]] Handle handleAt(QPointF pos) const;
    void dragTo(double plotY);
    void paintScale(QPainter& painter) const;
    void paintHistogram(QPainter& painter) const;
    void paintCocCurve(QPainter& painter) const;
    void paintHandles(QPainter& painter) const;

    Document& m_document;
    const DepthSurvey& m_survey;
    SharedAxis m_shared;
    Handle m_dragged = Handle::none;
    Handle m_hovered = Handle::none;
    int m_gesture = 0;
};

} // namespace retinex::app
