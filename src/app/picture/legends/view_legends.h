#pragma once

#include "app/document/document.h"
#include "app/picture/image_view_map.h"
#include "app/picture/legends/depth_legend.h"
#include "app/pictures/picture_maker.h"

#include <QImage>
#include <memory>
#include <optional>

namespace retinex::app {

/// What a view says over its picture: the zones and their legend, the scale of distances with the marks that
/// tell which way round they run, the scale of blur, the colours of edge repair.
class ViewLegends
{
public:
    /// Marks that tell which way round depth runs, drawn in the Depth view; null for none.
    void setEvidence(std::shared_ptr<const depth::DirectionEvidence> evidence)
    {
        m_evidence = std::move(evidence);
    }
    void pictureChanged();
    void mapChanged() { m_zones = {}; }
    /// `picture` has passes.
    void paint(QPainter& painter, const Picture& picture, const ImageViewMap& map, QSize view,
               const Document& document);

private:
    void paintZones(QPainter& painter, const Picture& picture, const ImageViewMap& map, QSize view,
                    const Document& document);

    QImage m_zones;                      ///< null when they must be drawn anew
    std::optional<DepthLegend> m_legend; ///< of the picture shown; made when first needed
    std::shared_ptr<const depth::DirectionEvidence> m_evidence;
};

/// How the picture is looked at, said plainly, so that nobody takes it for the picture.
void paintLooking(QPainter& painter, const Looking& looking, QSize view);

} // namespace retinex::app
