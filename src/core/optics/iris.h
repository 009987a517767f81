#pragma once

#include "core/image/image.h"
#include "core/system/words.h"

#include <memory>
#include <vector>

/// The iris: the outline of the lens opening and, seen in the picture, the shape of a blurred point.
namespace retinex::optics {

struct Point
{
    double x = 0.0;
    double y = 0.0;
    friend bool operator==(const Point&, const Point&) = default;
};

/// An opening given as a picture: weights >= 0 of any scale, y down; the picture's shorter half side is the
/// radius of the circle it replaces. Never null inside; made by readIrisPicture or a test.
using IrisPicture = std::shared_ptr<const Plane<float>>;

/// What the f-stop means for an opening with blades: the area of the opening (it lets as much light through
/// as a circle of that f-stop), or the circle that the blades stand in, as many renderers have it.
enum class Opening { area, blades };

/// As it is seen in the picture *behind* the focal plane; in front of it the lens turns it over.
struct Iris
{
    int blades = 0;          ///< 0: a circle; else 3 to 16: a polygon, one corner up at turn 0
    double turnDeg = 0.0;    ///< counter-clockwise as seen in the picture
    double rounding = 0.0;   ///< 0: straight blades; 1: so curved that the outline is a circle
    double squeeze = 1.0;    ///< 0.5..2: height of the disc over its width (2: a 2x anamorphic lens)
    double rim = 0.0;        ///< -1: dark edge; 1: bright edge; see rimWeight
    double centreStop = 0.0; ///< 0..0.95: share of the radius that a stop in the middle covers
    double catsEye = 0.0;    ///< 0..1: how far the disc is clipped in the frame's corners; see catsEyeClip
    Opening opening = Opening::area;
    IrisPicture picture; ///< replaces blades, rounding, rim and centre stop where it is set

    /// Throws Error naming the setting that is out of range.
    void check() const;
    friend bool operator==(const Iris&, const Iris&) = default;
};

/// Corners of the outline, y down, in units of half the CoC (before squeeze). By area that is the radius of
/// the *circle of equal area*: an opening of any number of blades lets the same light through at the same
/// f-stop, so it also blurs as much. By blades it is the radius of the circle through the corners. Curved
/// parts are given as many short sides. Squeeze divides x. Without centre stop, rim and picture. `turnedOver`
/// gives the outline in front of the focal plane (half a turn on).
///
/// A curved blade is the arc through its two corners whose sagitta is `rounding` times that of the
/// circumscribed circle.
[[nodiscard]] std::vector<Point> irisOutline(const Iris& iris, bool turnedOver);

/// Largest distance of the outline (or of the picture's edge) from its centre before squeeze: 1 for a circle,
/// 1.555 for a triangle by area, 1 by blades.
[[nodiscard]] double irisReach(const Iris& iris);

/// Light at `rho` of the way from the centre to the outline (0..1), for `rim` in -1..1:
///   1 + rim (3 rho^4 - 1) / 2
/// whose mean over the opening is 1 (the mean of rho^4 over an area is 1/3). Under the centre stop there is
/// none.
[[nodiscard]] double rimWeight(double rim, double rho);

/// The circle that clips a disc away from the picture's centre, in units of the disc's radius and with the
/// disc's centre at 0.
struct ClipCircle
{
    Point centre;
    double radius = 0.0;
};
/// `at` is the point's place relative to the picture's centre, in units of half the picture's diagonal. The
/// clip's radius is 1.25 and its centre moves *towards* the picture's centre (behind the focal plane; away
/// from it in front), by 1.25 catsEye in the corner: at 0 nothing is clipped anywhere (common practice: the
/// rim of a lens barrel, seen at an angle).
[[nodiscard]] ClipCircle catsEyeClip(double catsEye, Point at, bool turnedOver);

} // namespace retinex::optics

namespace retinex {

template <>
inline constexpr std::array<std::string_view, 2> kWords<optics::Opening>{"area", "blades"};

} // namespace retinex
