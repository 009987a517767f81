#include "core/timeline/ease.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace retinex::timeline {

namespace {

double bezier(double first, double second, double u)
{
    const double v = 1.0 - u;
    return 3.0 * v * v * u * first + 3.0 * v * u * u * second + u * u * u;
}

/// Where along the curve the frame lies: frames rise along it, since both handles stay within 0..1.
double alongCurve(double first, double second, double t)
{
    double low = 0.0;
    double high = 1.0;
    double u = t;
    for (int i = 0; i < 60; ++i) {
        const double off = bezier(first, second, u) - t;
        if (std::abs(off) < 1e-14) break;
        (off > 0.0 ? high : low) = u;
        const double v = 1.0 - u;
        const double slope =
            3.0 * v * v * first + 6.0 * v * u * (second - first) + 3.0 * u * u * (1.0 - second);
        const double next = slope > 1e-9 ? u - off / slope : -1.0;
        u = next > low && next < high ? next : 0.5 * (low + high); // a step that leads astray is halved
    }
    return u;
}

} // namespace

Handle handleOf(const Side& side) noexcept
{
    constexpr double third = 1.0 / 3.0;
    if (side.ease == Ease::linear) return {third, third};
    if (side.ease != Ease::curve) return {third, 0.0};
    return {std::clamp(side.reach, 0.0, 1.0),
            side.mayOvershoot ? side.rise : std::clamp(side.rise, 0.0, 1.0)};
}

double progress(const Side& leaving, const Side& arriving, double t) noexcept
{
    t = std::clamp(t, 0.0, 1.0);
    if (t == 1.0) return 1.0;
    if (leaving.ease == Ease::hold) return 0.0;
    const Handle first = handleOf(leaving);
    const Handle second = handleOf(arriving);
    const bool even = first.reach == second.reach && first.reach == 1.0 / 3.0;
    const double u = even ? t : alongCurve(first.reach, 1.0 - second.reach, t);
    return bezier(first.rise, 1.0 - second.rise, u);
}

SplitSides splitAt(const Side& leaving, const Side& arriving, double t) noexcept
{
    if (leaving.ease == Ease::hold) return {Ease::hold, Ease::smooth, Ease::hold, arriving};
    if (leaving.ease == Ease::linear && arriving.ease == Ease::linear)
        return {Ease::linear, Ease::linear, Ease::linear, Ease::linear};
    const Handle first = handleOf(leaving);
    const Handle second = handleOf(arriving);
    const double u = alongCurve(first.reach, 1.0 - second.reach, t);
    struct At
    {
        double x, y;
    };
    const auto between = [u](At a, At b) { return At{a.x + u * (b.x - a.x), a.y + u * (b.y - a.y)}; };
    const At p1{first.reach, first.rise};
    const At p2{1.0 - second.reach, 1.0 - second.rise};
    const At p01 = between({0.0, 0.0}, p1);
    const At p12 = between(p1, p2);
    const At p23 = between(p2, {1.0, 1.0});
    const At p012 = between(p01, p12);
    const At p123 = between(p12, p23);
    const At middle = between(p012, p123);
    const bool overshoot = leaving.mayOvershoot || arriving.mayOvershoot;
    // Handles as shares of the part they are in; a part without a rise has none.
    const auto side = [overshoot](double reach, double rise, double width, double height) {
        return Side(std::clamp(reach / width, 0.0, 1.0), height != 0.0 ? rise / height : 0.0, overshoot);
    };
    const double x = middle.x;
    const double y = middle.y;
    return {side(p01.x, p01.y, x, y), side(x - p012.x, y - p012.y, x, y),
            side(p123.x - x, p123.y - y, 1.0 - x, 1.0 - y), side(1.0 - p23.x, 1.0 - p23.y, 1.0 - x, 1.0 - y)};
}

} // namespace retinex::timeline
