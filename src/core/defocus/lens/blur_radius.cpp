#include "core/defocus/lens/blur_radius.h"

#include <algorithm>
#include <cmath>

namespace retinex::defocus {

double BlurModel::radiusPx(double distance) const noexcept
{
    const double focus = lens.focusDistanceMm / millimetresPerUnit;
    // The held zone is cut out of space: what lies beyond it is taken as nearer to the focal plane by as
    // much.
    if (distance > focus)
        distance = std::max(focus, distance - controls.heldFar);
    else
        distance = std::min(focus, distance + controls.heldNear);
    double radius = 0.0;
    if (simple) {
        const double whole = 1.0 / simple->nearest - 1.0 / simple->farthest;
        radius = simple->radiusPx * (1.0 / focus - 1.0 / distance) / whole;
    } else {
        radius = 0.5 * pxPerMm * circleOfConfusionMm(lens, distance * millimetresPerUnit);
    }
    return std::clamp(controls.strength * radius, -controls.limitNearPx, controls.limitFarPx);
}

optics::ThinLens BlurModel::equivalentLens() const noexcept
{
    if (!simple) return lens;
    // c = A f (1/s - 1/z) as rendered, and the simple lens's is linear in 1/s - 1/z too.
    optics::ThinLens same = lens;
    same.framing = optics::Framing::rendered;
    const double whole = 1.0 / simple->nearest - 1.0 / simple->farthest;
    const double opening = 2.0 * simple->radiusPx * millimetresPerUnit / (whole * pxPerMm); // A f, mm^2
    constexpr double kPinhole = 1e12;
    same.fStop = std::min(kPinhole, same.focalLengthMm * same.focalLengthMm / std::max(opening, 1e-12));
    return same;
}

Plane<float> radiusOfEach(const Plane<float>& distance, const BlurModel& model, const Run& run)
{
    Plane<float> radius(distance.width(), distance.height());
    parallelFor(distance.height(), {run.threads, {}, run.stop}, [&](int y) {
        const float* from = distance.row(y);
        std::transform(from, from + distance.width(), radius.row(y),
                       [&](float d) { return static_cast<float>(model.radiusPx(static_cast<double>(d))); });
    });
    return radius;
}

} // namespace retinex::defocus
