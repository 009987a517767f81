#pragma once

#include "app/document/document.h"
#include "app/views/depth_profile.h"

#include <QImage>
#include <QWidget>

namespace retinex::app {

/// Distance upward, frames across: every frame's depth histogram behind, the focus distance as a line with
/// its marks, the sharp zone as a band around it.
class FocusDesk : public QWidget
{
    Q_OBJECT

public:
    FocusDesk(Document& document, const DepthSurvey& survey, QWidget* parent = nullptr);

    void setAxis(const SharedAxis& shared);
    /// Widget position of a frame and distance, for tests and tools.
    [[nodiscard]] QPoint pointFor(int frame, double distance) const;
    [[nodiscard]] int selectedMark() const noexcept { return m_selected; } ///< its frame, or -1

public slots:
    void setMarkHere();
    void deleteSelectedMark();
    void goToMark(int direction); ///< -1: the one before, 1: the one after

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    [[nodiscard]] DistanceAxis axis() const { return m_shared.axis(height()); }
    [[nodiscard]] QRectF plot() const;
    [[nodiscard]] double frameToX(double frame) const;
    [[nodiscard]] int xToFrame(double x) const;
    [[nodiscard]] int markAt(QPointF pos) const; ///< its frame, or -1
    void paintFrames(QPainter& painter) const;
    void paintHeat(QPainter& painter);
    void paintLine(QPainter& painter) const;
    void paintMarks(QPainter& painter) const;
    void moveMarkTo(QPointF pos);

    Document& m_document;
    const DepthSurvey& m_survey;
    SharedAxis m_shared;
    QImage m_heat; ///< null when it must be drawn anew
    int m_selected = -1;
    bool m_draggingMark = false;
    bool m_scrubbing = false;
    int m_gesture = 0;
};

} // namespace retinex::app
