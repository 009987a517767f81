#pragma once

#include "app/desk/desk_state.h"
#include "app/document/document.h"
#include "app/jobs/depth_survey.h"

#include <QWidget>

namespace retinex::app {

/// The present frame's distances as a histogram growing sideways, with the sharp zone as a band, the focal
/// plane and the limits as handles, the CoC as a curve and subjects as flags. A dragged focal plane snaps to
/// subjects, unless Alt is held.
class DepthProfile : public QWidget
{
    Q_OBJECT

public:
    DepthProfile(Document& document, const DepthSurvey& survey, DeskState& state, QWidget* parent = nullptr);

    enum class Handle { none, focus, nearLimit, farLimit };
    /// Widget position of a handle, for tests and tools.
    [[nodiscard]] QPoint handlePoint(Handle handle) const;

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;

private:
    [[nodiscard]] DistanceAxis axis() const { return m_state.axis().axis(height()); }
    /// The width that the simple lens counts by, px.
    [[nodiscard]] int pictureWidth() const;
    [[nodiscard]] QRectF plot() const;
    [[nodiscard]] double handleY(Handle handle) const; ///< in the plot
    [[nodiscard]] Handle handleAt(QPointF pos) const;
    void dragTo(double plotY, bool snaps);
    void paintScale(QPainter& painter) const;
    void paintHistogram(QPainter& painter) const;
    void paintCocCurve(QPainter& painter) const;
    void paintTitle(QPainter& painter, int room) const;
    void paintHandles(QPainter& painter) const;
    void paintSubjects(QPainter& painter) const;

    Document& m_document;
    const DepthSurvey& m_survey;
    DeskState& m_state;
    Handle m_dragged = Handle::none;
    Handle m_hovered = Handle::none;
    int m_gesture = 0;
};

} // namespace retinex::app
