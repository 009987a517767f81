#pragma once

#include "core/colour/view_transform.h"
#include "core/project/project.h"

#include <QImage>

namespace retinex::app {

constexpr QSize kSmallZonesSize{196, 110}; ///< px at most

/// A frame as it would be seen in Zones were its depth read like `reading`, focused on its nearest large
/// surface, with "near" and "far" written where they would be.
[[nodiscard]] QImage smallZones(const passes::FramePasses& passes, const project::Project& project, int frame,
                                const depth::ReadingSettings& reading, const colour::ViewTransform& view,
                                const Run& run);

} // namespace retinex::app
