#pragma once

#include "app/picture/tools/tool.h"
#include "core/regions/region.h"

#include <optional>

namespace retinex::app {

class RegionTools;

/// Drawing a region's outline, point by point.
class RegionOutlineTool : public Tool
{
    Q_OBJECT

public:
    explicit RegionOutlineTool(RegionTools& regions, QObject* parent = nullptr)
        : Tool(parent), m_regions(regions)
    {
    }
    bool press(const Hand& hand) override;
    void move(const Hand& hand) override;
    bool doubleClick(const Hand& hand) override;
    bool key(int key) override;
    void paint(QPainter& painter, const ImageViewMap& map) override;
    [[nodiscard]] QString hint() const override;
    void leave() override { m_points.clear(); }

private:
    void finish();

    RegionTools& m_regions;
    std::vector<regions::OutlinePoint> m_points; ///< px of the frame
    QPointF m_at;                                ///< of the pointer
};

/// Drawing an ellipse or a box from corner to corner.
class RegionShapeTool : public Tool
{
    Q_OBJECT

public:
    enum class Shape { ellipse, box };
    RegionShapeTool(RegionTools& regions, Shape shape, QObject* parent = nullptr)
        : Tool(parent), m_regions(regions), m_shape(shape)
    {
    }
    bool press(const Hand& hand) override;
    void move(const Hand& hand) override;
    void release(const Hand& hand) override;
    bool doubleClick(const Hand&) override { return true; }
    bool key(int key) override;
    void paint(QPainter& painter, const ImageViewMap& map) override;
    [[nodiscard]] QString hint() const override;
    void leave() override { m_from.reset(); }

private:
    RegionTools& m_regions;
    Shape m_shape;
    std::optional<regions::Point> m_from;
    QPointF m_at; ///< of the pointer
};

/// Painting a region's area.
class RegionBrushTool : public Tool
{
    Q_OBJECT

public:
    explicit RegionBrushTool(RegionTools& regions, QObject* parent = nullptr)
        : Tool(parent), m_regions(regions)
    {
    }
    bool press(const Hand& hand) override;
    void move(const Hand& hand) override;
    void release(const Hand& hand) override;
    bool doubleClick(const Hand&) override { return true; }
    bool key(int key) override;
    void paint(QPainter& painter, const ImageViewMap& map) override;
    [[nodiscard]] QString hint() const override;
    [[nodiscard]] bool takesPen() const override { return true; }
    void leave() override { m_points.clear(); }

private:
    RegionTools& m_regions;
    std::vector<regions::StrokePoint> m_points; ///< of the stroke being painted, px of the frame
    QPointF m_at;                               ///< of the pointer
};

} // namespace retinex::app
