#pragma once

#include "app/picture/tools/tool.h"
#include "core/regions/region.h"

namespace retinex::app {

class RegionTools;

/// Moving the points of the chosen region's outlines, their handles, the ends of its ramp, or all of it.
class RegionPointsTool : public Tool
{
    Q_OBJECT

public:
    explicit RegionPointsTool(RegionTools& regions, QObject* parent = nullptr)
        : Tool(parent), m_regions(regions)
    {
    }
    bool press(const Hand& hand) override;
    void move(const Hand& hand) override;
    void release(const Hand& hand) override;
    /// On a point: corner or smooth; on an outline: one more point there.
    bool doubleClick(const Hand& hand) override;
    bool key(int key) override;
    bool fillMenu(QMenu& menu, const Hand& hand) override;
    void paint(QPainter& painter, const ImageViewMap& map) override;
    [[nodiscard]] QString hint() const override;
    void leave() override;
    /// Something is being moved.
    [[nodiscard]] bool isDragging() const noexcept { return m_grip.what != Grip::What::none; }

private:
    struct Grip
    {
        enum class What { none, point, arriving, leaving, rampFrom, rampTo, inside } what = What::none;
        std::size_t piece = 0;
        std::size_t point = 0;
    };

    [[nodiscard]] Grip gripAt(const Hand& hand) const;
    void dragGrip(const regions::Point& place);
    void changePoint(const QString& what, const Grip& grip,
                     const std::function<void(regions::OutlinePoint&)>& change);
    void deletePoint(const Grip& grip);

    RegionTools& m_regions;
    Grip m_grip;
    Grip m_selected; ///< the point that keys act on
    regions::Point m_gripFrom;
    regions::Point m_moveFrom;
    int m_gesture = 0;
};

} // namespace retinex::app
