#pragma once

#include "core/depth/depth_reading.h"

#include <optional>

/// Measuring in the picture.
namespace retinex::depth {

struct PixelRect
{
    int left = 0;
    int top = 0;
    int width = 0;
    int height = 0;
};

/// Percentiles (0..1) of the numbers of a rectangle whose pixels are no gaps; nothing where there are none.
[[nodiscard]] std::optional<std::pair<double, double>> percentilesIn(const Plane<float>& numbers,
                                                                     const Plane<std::uint8_t>& gaps,
                                                                     const PixelRect& rect, double low,
                                                                     double high);

/// A place in the picture and the planar distance of what is seen there.
struct SeenPoint
{
    double x = 0.0; ///< px
    double y = 0.0;
    double distance = 0.0;
};
/// How far two points are from each other in space, in the unit of their distances: each lies at d (u, v, 1),
/// with (u, v) its place on the plane at distance 1 (pinhole model).
[[nodiscard]] double spanBetween(const SeenPoint& a, const SeenPoint& b, const ViewGeometry& view) noexcept;

} // namespace retinex::depth
