#pragma once

#include "app/document/document.h"
#include "app/document/region_edits.h"
#include "app/jobs/background.h"
#include "app/picture/tools/region_draw_tools.h"
#include "app/picture/tools/region_points_tool.h"
#include "core/regions/placement.h"

#include <QImage>
#include <QSettings>

namespace retinex::app {

enum class RegionTool { none, outline, ellipse, box, brush, edit };

constexpr double kRegionGrab = 10.0; ///< view px around a point

/// Regions in the picture: which is chosen, the tools that draw, paint and move them, and how they are shown:
/// by outline and soft hatching, never by a tint.
class RegionTools : public QObject
{
    Q_OBJECT

public:
    explicit RegionTools(Document& document, QObject* parent = nullptr);

    /// What is drawn next becomes a new region.
    void begin(RegionTool tool, RegionStart start);
    /// What is drawn next becomes a piece of the chosen region, joined so.
    void addTo(RegionTool tool, regions::Joining joining);
    /// Strokes go into the mask of an insert; no region is needed.
    void paintMask(const std::string& insert);
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

    /// Without points.
    [[nodiscard]] const regions::Stroke& brush() const noexcept { return m_brush; }
    void setBrush(double radiusPx, double softness, double strength);
    void setErases(bool erases);
    void growBrush(double factor);

    /// The one that has the mouse; null for none.
    [[nodiscard]] Tool* current();

    void paint(QPainter& painter, const ImageViewMap& map, QSize view, int frame);
    /// The area of the chosen region as last made, as large as the frame; empty where there is none.
    [[nodiscard]] const Plane<float>& area() const noexcept { return m_area; }
    [[nodiscard]] bool isBusy() const noexcept { return m_work.isBusy(); }

    // For its tools.
    [[nodiscard]] Document& document() noexcept { return m_document; }
    /// The chosen one, or what stands for the mask that is painted; null for none.
    [[nodiscard]] const regions::Region* region() const noexcept;
    /// Where what is drawn in the chosen region lies on the present frame.
    [[nodiscard]] regions::Homography placement() const;
    /// As it would have to be drawn to lie there.
    [[nodiscard]] regions::Point drawn(const Hand& hand) const;
    /// What was drawn becomes a region, or a piece of the chosen one.
    void finishShape(regions::Piece piece);
    void finishStroke(regions::Stroke stroke);
    /// Enter and Escape end a tool that has nothing else to do with them.
    bool endsBy(int key);
    void askForArea();

signals:
    void changed(); ///< the picture wants to be painted anew
    void toolChanged();
    void chosenChanged();
    void brushChanged();

private:
    void setTool(RegionTool tool);
    void changeTarget(const QString& what, const std::function<void(std::vector<regions::Piece>&)>& change);
    void projectChanged();
    void paintRegion(QPainter& painter, const ImageViewMap& map, const regions::Region& region,
                     int frame) const;
    [[nodiscard]] QImage hatching(const ImageViewMap& map, QSize view, double ratio) const;

    Document& m_document;
    Background m_work;
    RegionTool m_tool = RegionTool::none;
    std::string m_chosen;
    std::string m_maskOf; ///< id of an insert whose mask is painted; "": regions are worked on
    mutable regions::Region m_mask;
    bool m_isShown = false;
    bool m_isAlone = false;
    bool m_isNew = true; ///< what is drawn becomes a region of its own
    RegionStart m_start = RegionStart::guard;
    regions::Joining m_joining = regions::Joining::add;

    regions::Stroke m_brush;
    RegionOutlineTool m_outline;
    RegionShapeTool m_ellipse;
    RegionShapeTool m_box;
    RegionBrushTool m_painting;
    RegionPointsTool m_points;

    std::string m_areaKey; ///< what m_area was asked for by
    Plane<float> m_area;
    mutable QImage m_hatching;
    mutable QString m_hatchingKey;
};

} // namespace retinex::app
