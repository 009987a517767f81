#pragma once

#include "app/desk/desk_heat.h"
#include "app/desk/desk_painter.h"
#include "app/desk/desk_state.h"
#include "app/document/document.h"
#include "app/jobs/depth_survey.h"

#include <QPixmap>
#include <QWidget>

namespace retinex::app {

/// Distance upward, frames across: every frame's depth histogram behind, subjects as lines, the focus
/// distance as a strong line with its marks, the sharp zone as a band around it, cuts as breaks.
///
/// Drag marks, handles of a chosen mark's curve, or the ruler; Shift and drag chooses many, Ctrl and click
/// adds one. The wheel zooms frames, with Ctrl distances; the middle button moves both.
class FocusDesk : public QWidget
{
    Q_OBJECT

public:
    FocusDesk(Document& document, const DepthSurvey& survey, DeskState& state, QWidget* parent = nullptr);

    /// Widget position of a frame and distance, for tests and tools.
    [[nodiscard]] QPoint pointFor(double frame, double distance) const;
    /// Of the handle of a mark's side with a curve.
    [[nodiscard]] QPoint handlePoint(int frame, bool leaving) const;
    [[nodiscard]] FrameScale frameScale() const;

public slots:
    void deleteChosenMarks();
    void goToMark(int direction); ///< -1: the one before, 1: the one after

signals:
    /// The artist wants to type the values of a mark; near this position of the desk.
    void markCardAsked(int frame, QPoint at);
    void cutAsked(int frame);
    void removeCutAsked(int frame);
    void bindAsked(const std::string& subject); ///< the chosen marks; "": to plain numbers
    void bakeAsked();

protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    enum class Drag { none, scrub, marks, handle, choose, pan };
    struct HandleAt
    {
        int frame = 0;
        bool leaving = true;
    };

    [[nodiscard]] DeskPainter painterFor() const;
    void drawBackground(const DeskPainter& desk);
    [[nodiscard]] bool backgroundIsCurrent(const DeskPainter& desk) const;
    [[nodiscard]] int markAt(QPointF pos) const; ///< its frame, or INT_MIN
    [[nodiscard]] std::optional<HandleAt> handleAt(QPointF pos) const;
    [[nodiscard]] int frameAt(double x) const; ///< held to the frames worked on
    [[nodiscard]] double distanceAt(double y) const;
    [[nodiscard]] timeline::FrameRange shotRange() const;
    void pressMark(int frame, bool toggles);
    void dragMarks(QPointF pos, bool snaps);
    void dragHandle(QPointF pos);
    void chooseWithin(const QRectF& box);
    void openMarkHere();
    void nudge(int frames, double factor);
    void copyChosen();
    void paste();
    void fillMarkMenu(QMenu& menu, int frame);
    void setEase(bool leaving, timeline::Ease ease);

    Document& m_document;
    DeskState& m_state;
    DeskHeat m_heat;
    /// What stays while marks are dragged: heat, grid, subjects and cuts. Drawn anew when what it shows
    /// changes.
    QPixmap m_background;
    FrameScale m_backgroundFrames;
    DistanceAxis m_backgroundAxis;
    std::vector<timeline::Subject> m_backgroundSubjects;
    std::vector<std::pair<int, std::string>> m_backgroundShots; ///< first frame and name
    /// That with the focus lines, which stay while frames are played.
    QPixmap m_withFocus;
    bool m_focusIsOld = true;
    Drag m_drag = Drag::none;
    QPointF m_pressed;
    QRectF m_box; ///< while choosing
    timeline::Marks m_pressMarks;
    timeline::ChosenFrames m_pressChosen;
    int m_pressFrame = 0; ///< of the mark under the pointer
    HandleAt m_handle;
    timeline::Marks m_copied;
    int m_gesture = 0;
};

} // namespace retinex::app
