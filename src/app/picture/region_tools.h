#pragma once

#include "app/document/document.h"
#include "app/document/region_edits.h"
#include "app/jobs/background.h"
#include "app/picture/image_view_map.h"
#include "core/regions/placement.h"

#include <QImage>
#include <QMenu>
#include <QPainter>
#include <QSettings>

namespace retinex::app {

enum class RegionTool { none, outline, ellipse, box, brush, edit };

/// Regions in the picture: drawing, painting and moving them, and how they are shown: by outline and soft
/// hatching, never by a tint. Positions of the view come with the map that tells where the picture lies.
class RegionTools : public QObject
{
    Q_OBJECT

public:
    explicit RegionTools(Document& document, QObject* parent = nullptr);

    /// What is drawn next becomes a new region.
    void begin(RegionTool tool, RegionStart start);
    /// What is drawn next becomes a part of the chosen region, joined so.
    void addTo(RegionTool tool, regions::Joining joining);
    void edit() { setTool(RegionTool::edit); }
    void leave() { setTool(RegionTool::none); }
    [[nodiscard]] RegionTool tool() const noexcept { return m_tool; }

    void choose(const std::string& id);
    [[nodiscard]] const std::string& chosen() const noexcept { return m_chosen; }
    void setShown(bool shown);
    [[nodiscard]] bool isShown() const noexcept { return m_isShown || m_tool != RegionTool::none; }
    /// The area of the chosen one as a grey picture in place of all else, while a key is held.
    void setAlone(bool alone);
    [[nodiscard]] bool isAlone() const noexcept { return m_isAlone; }

    [[nodiscard]] double brushRadius() const noexcept { return m_brush.radiusPx; }
    [[nodiscard]] double brushSoftness() const noexcept { return m_brush.softness; }
    [[nodiscard]] double brushStrength() const noexcept { return m_brush.strength; }
    [[nodiscard]] bool erases() const noexcept { return m_brush.erases; }
    void setBrush(double radiusPx, double softness, double strength);
    void setErases(bool erases);
    void growBrush(double factor);

    // What the picture view hears; true where it is for the tools. `pressure`: 0..1.
    bool press(QPointF at, const ImageViewMap& map, Qt::KeyboardModifiers modifiers, double pressure = 1.0);
    bool move(QPointF at, const ImageViewMap& map, double pressure = 1.0);
    bool release(QPointF at, const ImageViewMap& map);
    bool doubleClick(QPointF at, const ImageViewMap& map);
    bool key(int key);
    /// What can be done with a point of the chosen outline; false where there is none.
    bool fillMenu(QMenu& menu, QPointF at, const ImageViewMap& map);

    void paint(QPainter& painter, const ImageViewMap& map, QSize view, int frame);
    /// The area of the chosen region as last made, as large as the frame; empty where there is none.
    [[nodiscard]] const Plane<float>& area() const noexcept { return m_area; }
    /// Words on what a click does now; empty without a tool.
    [[nodiscard]] QString hint() const;
    [[nodiscard]] bool isBusy() const noexcept { return m_work.isBusy(); }

signals:
    void changed(); ///< the picture wants to be painted anew
    void toolChanged();
    void chosenChanged();
    void brushChanged();

private:
    struct Grip
    {
        enum class What { none, point, arriving, leaving, rampFrom, rampTo, inside } what = What::none;
        std::size_t part = 0;
        std::size_t point = 0;
    };

    void setTool(RegionTool tool);
    void projectChanged();
    void askForArea();
    void finishShape(regions::Part part);
    void finishOutline();
    void finishStroke();
    void dragGrip(const regions::Point& place);
    void changePoint(const QString& what, const Grip& grip,
                     const std::function<void(regions::OutlinePoint&)>& change);
    void deletePoint(const Grip& grip);
    [[nodiscard]] Grip gripAt(QPointF at, const ImageViewMap& map) const;
    [[nodiscard]] const regions::Region* region() const noexcept { return regionWith(m_document, m_chosen); }
    /// Where what is drawn in the chosen region lies on the present frame.
    [[nodiscard]] regions::Homography placement() const;
    /// As it would have to be drawn to lie there.
    [[nodiscard]] regions::Point drawn(QPointF at, const ImageViewMap& map) const;
    void paintRegion(QPainter& painter, const ImageViewMap& map, const regions::Region& region,
                     int frame) const;
    void paintGrips(QPainter& painter, const ImageViewMap& map, int frame) const;
    void paintDrawing(QPainter& painter, const ImageViewMap& map) const;
    [[nodiscard]] QImage hatching(const ImageViewMap& map, QSize view, double ratio) const;

    Document& m_document;
    Background m_work;
    RegionTool m_tool = RegionTool::none;
    std::string m_chosen;
    bool m_isShown = false;
    bool m_isAlone = false;
    bool m_isNew = true; ///< what is drawn becomes a region of its own
    RegionStart m_start = RegionStart::guard;
    regions::Joining m_joining = regions::Joining::add;

    regions::Stroke m_brush; ///< its points are those of the stroke being painted, px of the frame
    bool m_painting = false;
    std::vector<regions::OutlinePoint> m_points; ///< of the outline being drawn, px of the frame
    std::optional<regions::Point> m_from;        ///< corner of the ellipse or box being drawn
    Grip m_grip;
    Grip m_selected; ///< the point that keys act on
    regions::Point m_gripFrom;
    regions::Point m_moveFrom;
    int m_gesture = 0;
    QPointF m_at; ///< of the pointer

    std::string m_areaKey; ///< what m_area was asked for by
    Plane<float> m_area;
    mutable QImage m_hatching;
    mutable QString m_hatchingKey;
};

} // namespace retinex::app
