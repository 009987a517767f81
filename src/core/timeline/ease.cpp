#include "core/timeline/ease.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace retinex::timeline {

namespace {

constexpr std::array<std::string_view, 4> kEaseNames{"smooth", "linear", "hold", "curve"};

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

std::string_view name(Ease ease) noexcept
{
    return kEaseNames[static_cast<std::size_t>(ease)];
}

std::optional<Ease> easeFromName(std::string_view text) noexcept
{
    const auto it = std::find(kEaseNames.begin(), kEaseNames.end(), text);
    if (it == kEaseNames.end()) return std::nullopt;
    return static_cast<Ease>(it - kEaseNames.begin());
}

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

} // namespace retinex::timeline
