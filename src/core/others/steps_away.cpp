#include "core/others/steps_away.h"

#include <algorithm>
#include <cmath>

namespace retinex::others {

double parallax(const FrameCamera& own, const FrameCamera& other, int width, int height, double nearest,
                double farther)
{
    const auto at = [&](double distance) {
        return other.see(own.pointAt(0.5 * width, 0.5 * height, distance));
    };
    const auto a = at(nearest);
    const auto b = at(farther);
    return a.distance > 0.0 && b.distance > 0.0 ? std::hypot(a.x - b.x, a.y - b.y) : 0.0;
}

std::vector<int> stepsAway(OtherFrames views, double radiusPx, double eachPx, int longest)
{
    constexpr double still = 0.02; // px
    if (views == OtherFrames::off || eachPx < still) return {};
    std::vector<double> wanted{0.5 * radiusPx + 2.0, 3.0 * radiusPx + 8.0};
    if (views == OtherFrames::farFrames) wanted.push_back(8.0 * radiusPx + 16.0);
    std::vector<int> steps;
    for (const double px : wanted) {
        const double step = std::exp2(std::round(std::log2(std::max(1.0, px / eachPx))));
        const int held = static_cast<int>(std::min<double>(step, longest));
        if (steps.empty() || steps.back() != held) steps.push_back(held);
    }
    return steps;
}

} // namespace retinex::others
