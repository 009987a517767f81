#pragma once

#include "core/project/settings/setting.h"

#include <QWidget>
#include <optional>

namespace retinex::app {

/// A curve with points to drag: light before (along) and after (up), in stops from mid grey. A press on the
/// line sets a point, a double click or Delete takes one away, the arrows move the chosen one. Points cannot
/// pass each other. Without points the line is straight.
class CurveEditor : public QWidget
{
    Q_OBJECT

public:
    static constexpr double kLow = -8.0;
    static constexpr double kHigh = 8.0;

    explicit CurveEditor(QWidget* parent = nullptr);

    /// `colour` is that of the line.
    void setCurve(const project::Pairs& curve, const QColor& colour);
    [[nodiscard]] const project::Pairs& curve() const noexcept { return m_curve; }
    /// Where a pair lies in the widget.
    [[nodiscard]] QPointF placeOf(double before, double after) const;

    [[nodiscard]] QSize sizeHint() const override { return {240, 180}; }

signals:
    /// By the artist; the changes of one drag bear one gesture.
    void edited(const retinex::project::Pairs& curve, int gesture);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF area() const;
    [[nodiscard]] std::pair<double, double> pairAt(QPointF place) const;
    [[nodiscard]] std::optional<std::size_t> pointNear(QPointF place) const;
    void moveTo(std::size_t index, std::pair<double, double> to, int gesture);
    void removePoint(std::size_t index);

    project::Pairs m_curve;
    QColor m_colour = Qt::white;
    std::optional<std::size_t> m_chosen;
    int m_gesture = 0;
    bool m_dragging = false;
};

} // namespace retinex::app
