#pragma once

#include "core/inserts/insert.h"
#include "core/regions/placement.h"

#include <optional>

namespace retinex::inserts {

/// The corners of a picture of width x height px as they lie on the frame: top left, top right, bottom right,
/// bottom left of the picture (of a mirrored one its left is on the right).
[[nodiscard]] std::array<Point, 4> cornersOnFrame(const Insert& insert, double width, double height,
                                                  double frameWidth, double frameHeight);

/// "" or what is wrong with corners, as the end of a sentence: they cross, or lie in one line.
[[nodiscard]] std::string faultOf(const std::array<Point, 4>& corners);

/// Takes px of the picture to those of the frame; nothing where faultOf says something.
[[nodiscard]] std::optional<regions::Homography> placementTo(const std::array<Point, 4>& corners,
                                                             double width, double height);

/// The plane through four distances at four corners: 1/distance at (x, y) is a + b x + c y, by least squares.
struct ReciprocalPlane
{
    double a = 0.0;
    double b = 0.0;
    double c = 0.0;
    /// Scene units, > 0; +inf from its horizon on.
    [[nodiscard]] double distanceAt(double x, double y) const noexcept;
};
[[nodiscard]] ReciprocalPlane planeThrough(const std::array<Point, 4>& corners,
                                           const std::array<double, 4>& distances);

/// Which frame of a sequence is shown, of first to last; nothing where it has ended.
[[nodiscard]] std::optional<int> frameShown(const Insert& insert, int frame, int first, int last);

} // namespace retinex::inserts
