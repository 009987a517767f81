#pragma once

#include <vector>

/// The iris: the outline of the lens opening and, seen in the picture, the shape of a blurred point.
namespace retinex::optics {

struct Point
{
    double x = 0.0;
    double y = 0.0;
};

/// As it is seen in the picture *behind* the focal plane; in front of it the lens turns it over.
struct Iris
{
    int blades = 0;       ///< 0: a circle; else 3 to 16: a regular polygon, one corner up at turn 0
    double turnDeg = 0.0; ///< counter-clockwise as seen in the picture

    /// Throws Error when blades is neither 0 nor 3 to 16, or the turn is not finite.
    void check() const;
    friend bool operator==(const Iris&, const Iris&) = default;
};

/// Corners of the outline, y down, in units of the radius of the *circle of equal area*: an opening of any
/// number of blades lets the same light through at the same f-stop, so it also blurs as much. A circle is
/// given as 96 corners. `turnedOver` gives the outline in front of the focal plane (half a turn on).
[[nodiscard]] std::vector<Point> irisOutline(const Iris& iris, bool turnedOver);

/// Largest distance of the outline from its centre (1 for a circle, 1.555 for a triangle).
[[nodiscard]] double irisReach(const Iris& iris);

} // namespace retinex::optics
