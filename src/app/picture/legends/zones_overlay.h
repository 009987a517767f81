#pragma once

#include "app/picture/image_view_map.h"
#include "core/image/blur_share.h"
#include "core/project/project.h"

#include <QImage>

class QPainter;

namespace retinex::app {

/// The hatching grows denser where the CoC passes these multiples of the accepted one.
inline constexpr double kHatchSteps[] = {1.0, 4.0, 12.0};
/// Device px between its lines.
[[nodiscard]] int hatchSpacing(double cocOverAccepted);

/// Draws what is sharp as on a map, without tinting the picture: contour lines on surfaces at the near limit,
/// the focal plane and the far limit; hatching one way for all that is nearer than the near limit, the other
/// way for all beyond the far limit, denser as the CoC grows. Returns a transparent image of `size` device
/// px.
/// `blur`, of the size of `distance`, is what regions do to it; null: nothing. What they keep sharp has no
/// hatching, what they blur by more is denser.
[[nodiscard]] QImage zonesOverlay(const Plane<float>& distance, const BlurShare* blur,
                                  const project::Project& project, int frame, const ImageViewMap& map,
                                  QSize size, double devicePixelRatio);

/// Its lines and hatching with their numbers, at the lower left of a view.
void paintZonesLegend(QPainter& painter, const project::Project& project, int frame, int pictureWidth,
                      int viewHeight);

} // namespace retinex::app
