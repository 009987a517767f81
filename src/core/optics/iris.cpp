#include "core/optics/iris.h"

#include "core/system/error.h"
#include "core/system/say.h"

#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace retinex::optics {

namespace {

using std::numbers::pi;

constexpr int kCircleCorners = 96;
constexpr int kArcSides = 12; ///< of one curved blade
constexpr double kClipRadius = 1.25;

void require(double value, double low, double high, const char* name)
{
    if (!(value >= low && value <= high))
        throw Error(
            say("The {} of the iris is {:g}; give a number from {:g} to {:g}.", name, value, low, high));
}

/// The outline with its corners on the unit circle, first corner at angle `start`.
std::vector<Point> unitOutline(const Iris& iris, double start)
{
    std::vector<Point> outline;
    const auto addAt = [&](double angle, double radius) {
        outline.push_back({radius * std::cos(angle), -radius * std::sin(angle)});
    };
    if (iris.blades == 0) {
        for (int i = 0; i < kCircleCorners; ++i)
            addAt(start + 2.0 * pi * i / kCircleCorners, 1.0);
        return outline;
    }
    const double half = pi / iris.blades; // half the angle a blade spans
    const double chord = std::sin(half);  // half the chord
    const double sagitta = iris.rounding * (1.0 - std::cos(half));
    for (int blade = 0; blade < iris.blades; ++blade) {
        const double from = start + 2.0 * half * blade;
        addAt(from, 1.0);
        if (sagitta < 1e-9) continue;
        // The arc's centre lies on the blade's axis, its distance follows from chord and sagitta.
        const double arcRadius = (chord * chord + sagitta * sagitta) / (2.0 * sagitta);
        const double centre = std::cos(half) + sagitta - arcRadius;
        const double span = std::asin(std::min(1.0, chord / arcRadius));
        for (int i = 1; i < kArcSides; ++i) {
            const double along = -span + 2.0 * span * i / kArcSides;
            const double u = centre + arcRadius * std::cos(along);
            const double v = arcRadius * std::sin(along);
            addAt(from + half + std::atan2(v, u), std::hypot(u, v));
        }
    }
    return outline;
}

double areaOf(const std::vector<Point>& outline)
{
    double twice = 0.0;
    for (std::size_t i = 0; i < outline.size(); ++i) {
        const Point& a = outline[i];
        const Point& b = outline[(i + 1) % outline.size()];
        twice += a.x * b.y - b.x * a.y;
    }
    return std::abs(0.5 * twice);
}

/// From an outline with its corners on the unit circle to units of half the CoC.
double scaleOf(const Iris& iris, const std::vector<Point>& outline)
{
    return iris.opening == Opening::blades ? 1.0 : std::sqrt(pi / areaOf(outline));
}

} // namespace

void Iris::check() const
{
    if (blades != 0 && (blades < 3 || blades > 16))
        throw Error(say("The iris has {} blades; give 0 for a circle, or 3 to 16.", blades));
    if (!std::isfinite(turnDeg))
        throw Error(say("The turn of the iris is no number; give it in degrees, counter-clockwise."));
    require(rounding, 0.0, 1.0, "rounding");
    require(squeeze, 0.5, 2.0, "squeeze");
    require(rim, -1.0, 1.0, "rim");
    require(centreStop, 0.0, 0.95, "centre stop");
    require(catsEye, 0.0, 1.0, "cat's eye");
}

std::vector<Point> irisOutline(const Iris& iris, bool turnedOver)
{
    auto outline = unitOutline(iris, pi / 2.0 + iris.turnDeg * pi / 180.0 + (turnedOver ? pi : 0.0));
    const double scale = scaleOf(iris, outline);
    for (Point& p : outline)
        p = {p.x * scale / iris.squeeze, p.y * scale};
    return outline;
}

double irisReach(const Iris& iris)
{
    if (iris.picture)
        return std::hypot(iris.picture->width(), iris.picture->height()) /
               std::min(iris.picture->width(), iris.picture->height());
    return scaleOf(iris, unitOutline(iris, 0.0));
}

double rimWeight(double rim, double rho)
{
    return 1.0 + 0.5 * rim * (3.0 * rho * rho * rho * rho - 1.0);
}

ClipCircle catsEyeClip(double catsEye, Point at, bool turnedOver)
{
    const double shift = (turnedOver ? 1.0 : -1.0) * kClipRadius * catsEye;
    return {{shift * at.x, shift * at.y}, kClipRadius};
}

} // namespace retinex::optics
