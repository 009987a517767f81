#pragma once

#include "app/desk/desk_state.h"
#include "app/document/document.h"

#include <QWidget>

namespace retinex::app {

/// Under the desk, a lane for each other setting that has marks: its marks over the same frames, joined by
/// how the value goes, and its name and present value at the left. As tall as it has lanes.
class MarkLanes : public QWidget
{
    Q_OBJECT

public:
    MarkLanes(Document& document, DeskState& state, QWidget* parent = nullptr);

    /// Px at the left for names; the lanes begin where the desk does.
    void setDeskPlace(int left, int width);
    /// Widget position of a mark, for tests and tools.
    [[nodiscard]] QPoint pointFor(const SettingPath& id, int frame) const;

signals:
    void markCardAsked(const retinex::project::SettingPath& id, int frame, QPoint at);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    struct At
    {
        SettingPath id;
        int frame; ///< of a mark, or INT_MIN
    };
    void refresh();
    [[nodiscard]] FrameScale frames() const;
    [[nodiscard]] std::optional<At> at(QPointF pos) const;
    void paintLane(QPainter& painter, const SettingPath& id, double top) const;

    Document& m_document;
    DeskState& m_state;
    std::vector<SettingPath> m_lanes;
    std::size_t m_current = 0; ///< lane that keys work on
    int m_left = 0;
    int m_width = 100;
    bool m_dragging = false;
    QPointF m_pressed;
    timeline::Marks m_pressMarks;
    timeline::ChosenFrames m_pressChosen;
    int m_gesture = 0;
};

} // namespace retinex::app
