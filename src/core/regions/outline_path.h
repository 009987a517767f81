#pragma once

#include "core/image/image.h"
#include "core/regions/region.h"

/// Outlines: from points to curves to coverage.
namespace retinex::regions {

/// The closed curve through the points, as short sides that lie within 1/50 px of it.
[[nodiscard]] std::vector<Point> outlineCurve(const std::vector<OutlinePoint>& points);

/// How much of each pixel a polygon covers, exactly: its signed area over the pixel, held to 1. What it goes
/// round twice counts once, the other loop of an eight too. `left`, `top`: the place of the plane's corner.
void addPolygon(const std::vector<Point>& polygon, int left, int top, Plane<float>& coverage);

/// The four points of an ellipse (Bezier curves that lie within 1/3000 of its radius) or the corners of a
/// rectangle between two corners.
[[nodiscard]] std::vector<OutlinePoint> ellipse(const Point& a, const Point& b);
[[nodiscard]] std::vector<OutlinePoint> rectangle(const Point& a, const Point& b);

} // namespace retinex::regions
