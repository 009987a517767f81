#pragma once

#include "app/picture/image_view_map.h"
#include "app/pictures/depth_tones.h"
#include "core/depth/direction_check.h"
#include "core/project/project.h"

class QPainter;

namespace retinex::app {

/// What the legend of the Depth view tells.
struct DepthLegend
{
    DepthTones tones;
    std::vector<float> histogram; ///< counts from the far end to the near end, in equal steps of grey
    double nearerShare = 0.0;     ///< of the surfaces: nearer than the near end
    double fartherShare = 0.0;
    double gapShare = 0.0; ///< of the picture
};

[[nodiscard]] DepthLegend depthLegend(const passes::FramePasses& passes, const DepthTones& tones);
/// In the lower left corner of a view of this height.
void paintDepthLegend(QPainter& painter, const DepthLegend& legend, const project::Project& project,
                      int viewHeight);
/// Marks where the picture shows which way round depth runs: filled triangles speak against the present
/// reading, small rings for it. The words for them stand in the lower left corner, beside the legend.
void paintEvidence(QPainter& painter, const depth::DirectionEvidence& evidence, const ImageViewMap& map,
                   int viewHeight);

} // namespace retinex::app
