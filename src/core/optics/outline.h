#pragma once

#include "core/optics/iris.h"

namespace retinex::optics {

/// Whether (x, y) lies inside a polygon, closed from its last corner to its first; even-odd rule.
[[nodiscard]] bool isInside(const std::vector<Point>& outline, double x, double y);

} // namespace retinex::optics
