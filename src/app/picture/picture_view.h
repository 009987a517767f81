#pragma once

#include "app/document/document.h"
#include "app/picture/brighter_marks.h"
#include "app/picture/comparison.h"
#include "app/picture/image_view_map.h"
#include "app/picture/legends/view_legends.h"
#include "app/picture/region_tools.h"
#include "app/picture/strips/depth_strip.h"
#include "app/picture/subject_overlay.h"
#include "app/picture/tools/depth_tools.h"
#include "app/picture/tools/placing_tool.h"
#include "app/picture/tools/subject_tools.h"
#include "app/pictures/picture_maker.h"

#include <QWidget>
#include <memory>
#include <optional>

namespace retinex::app {

/// The picture: zoom on the pointer, pan, and one tool that has the mouse and the keys besides.
class PictureView : public QWidget
{
    Q_OBJECT

public:
    explicit PictureView(Document& document, QWidget* parent = nullptr);

    void show(const Picture& picture);
    /// A frame that is played, of any size, in place of the picture until the next one comes.
    void showPlayed(int frame, ViewMode mode, const QImage& picture);
    /// How the picture is compared with another, and that other one.
    void setComparison(Comparison::Mode mode);
    [[nodiscard]] Comparison& comparison() noexcept { return m_comparison; }
    void showOther(const Picture& picture);
    void clear();
    /// Words for when there is no picture; empty for the usual ones.
    void setIdleText(const QString& text);
    void setTool(PictureTool tool);
    [[nodiscard]] PictureTool tool() const noexcept { return m_named; }
    [[nodiscard]] SubjectOverlay& subjects() noexcept { return m_subjects; }
    [[nodiscard]] RegionTools& regions() noexcept { return m_regions; }
    [[nodiscard]] PlacingTool& inserts() noexcept { return m_inserts; }
    void showSubjects(bool shown);
    /// Marks that tell which way round depth runs, drawn in the Depth view; null for none.
    void setEvidence(std::shared_ptr<const depth::DirectionEvidence> evidence);
    /// Marks what is brighter than `level` for a moment: called while the level is dragged.
    void showGlintLevel(double level);
    /// The same for a glow: what in the picture, before finish, is brighter.
    void showGlowLevel(double level);
    [[nodiscard]] const BrighterMarks& brighter() const noexcept { return m_brighter; }
    [[nodiscard]] const Picture& picture() const noexcept { return m_picture; }
    /// What of a frame of the given size can be seen at the current zoom, and how finely.
    [[nodiscard]] PictureDetail visibleOf(QSize frame) const;
    [[nodiscard]] const ImageViewMap& map() const noexcept { return m_map; }
    /// Widget position of an image pixel's centre.
    [[nodiscard]] QPoint viewPoint(int imageX, int imageY) const;

    /// Puts the focal plane on what is seen there, as a click with the focus tool does.
    void focusAt(QPoint at) { (void)m_focus.press(handAt(at)); }
    void fit();
    void oneToOne();
    void zoomStep(double factor);

signals:
    /// Image pixel under the pointer; (-1, -1) outside the picture.
    void pointed(int x, int y);
    void focusPicked(double distance, QPoint pixel);
    void gapPicked(int x, int y);
    /// A tool of the depth strip was used: a place, or a rectangle or line from one place to another (image
    /// px).
    void depthPicked(retinex::app::PictureTool tool, QPoint from, QPoint to);
    void whitePicked(int x, int y); ///< px of the frame
    void zoomChanged(double scale);
    void toolChanged();
    /// Of the pixel under the pointer, its place in px of the frame, and where in the view.
    void menuAsked(QPoint pixel, QPointF place, QPoint at);
    /// With the subject tool: a click beside all subjects, and a drag of one; places in px of the frame.
    void subjectPlaced(QPointF at);
    void subjectDragged(const std::string& name, QPointF at, int gesture);
    void outlineDrawn(const QPolygonF& corners);
    void spaceTapped();   ///< without moving the picture
    void playedPressed(); ///< a press on a frame that is played

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void tabletEvent(QTabletEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void keyReleaseEvent(QKeyEvent* event) override;

private:
    void paintIdle(QPainter& painter) const;
    void paintPictures(QPainter& painter) const;
    void paintPicture(QPainter& painter, const Picture& picture, const QImage& whole) const;
    [[nodiscard]] int shownFrame() const;
    [[nodiscard]] QSizeF viewSize() const; ///< of a picture; half the width side by side
    /// Side by side, the place in the first picture that lies as the pointer does in its own.
    [[nodiscard]] QPointF local(QPointF at) const;
    void connectTools();
    void reachHandles();
    [[nodiscard]] Tool& named(PictureTool tool) noexcept;
    /// The tool that has the mouse now takes over.
    void takeTool();
    [[nodiscard]] Hand handAt(QPointF at, Qt::KeyboardModifiers modifiers = {}, double pressure = 1.0) const
    {
        return {at, m_map, modifiers, pressure};
    }
    void mapChanged();
    void updateCursor();

    Document& m_document;
    Picture m_picture;
    QImage m_whole;  ///< the last picture that showed all of the frame; lies around one that shows a part
    QImage m_played; ///< null while nothing is played
    int m_playedFrame = 1;
    ViewMode m_playedMode = ViewMode::result;
    Comparison m_comparison;
    QImage m_otherWhole;
    ImageViewMap m_map;
    QString m_idleText;
    ViewLegends m_legends;
    QPoint m_panned; ///< where the pointer was while panning
    BrighterMarks m_brighter;
    SubjectOverlay m_subjects;
    RegionTools m_regions;
    PlacingTool m_inserts;
    FocusTool m_focus;
    PickTool m_nearest;
    PickTool m_farthest;
    PickTool m_white;
    DragTool m_range;
    DragTool m_span;
    SubjectTool m_subjectTool;
    SubjectOutlineTool m_outlineTool;
    PictureTool m_named = PictureTool::focus; ///< while no region is drawn and nothing is placed
    Tool* m_tool = &m_focus;                  ///< has the mouse
    bool m_showsSubjects = true;
    std::vector<timeline::Subject> m_subjectsShown;
    bool m_panning = false;
    bool m_spaceHeld = false;
    bool m_pannedBySpace = false;
    bool m_wiping = false;
    Qt::CursorShape m_cursor = Qt::ArrowCursor;
};

} // namespace retinex::app
