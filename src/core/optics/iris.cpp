#include "core/optics/iris.h"

#include "core/base/error.h"

#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace retinex::optics {

namespace {

constexpr int kCircleCorners = 96;

int cornerCount(const Iris& iris)
{
    return iris.blades == 0 ? kCircleCorners : iris.blades;
}

/// Circumradius of the regular n-gon whose area is pi: n/2 R^2 sin(2 pi / n) = pi.
double circumradius(int corners)
{
    using std::numbers::pi;
    return std::sqrt(2.0 * pi / (corners * std::sin(2.0 * pi / corners)));
}

} // namespace

void Iris::check() const
{
    if (blades != 0 && (blades < 3 || blades > 16))
        throw Error(fmt::format("The iris has {} blades; give 0 for a circle, or 3 to 16.", blades));
    if (!std::isfinite(turnDeg)) throw Error("The turn of the iris is not a number of degrees.");
}

std::vector<Point> irisOutline(const Iris& iris, bool turnedOver)
{
    using std::numbers::pi;
    const int corners = cornerCount(iris);
    const double radius = circumradius(corners);
    const double start = pi / 2.0 + iris.turnDeg * pi / 180.0 + (turnedOver ? pi : 0.0);
    std::vector<Point> outline;
    outline.reserve(static_cast<std::size_t>(corners));
    for (int i = 0; i < corners; ++i) {
        const double angle = start + 2.0 * pi * i / corners;
        outline.push_back({radius * std::cos(angle), -radius * std::sin(angle)});
    }
    return outline;
}

double irisReach(const Iris& iris)
{
    return circumradius(cornerCount(iris));
}

} // namespace retinex::optics
