#include "core/optics/thin_lens.h"

#include "core/system/error.h"
#include "core/system/say.h"

#include <cmath>
#include <fmt/format.h>

namespace retinex::optics {

namespace {

constexpr double kInfinity = std::numeric_limits<double>::infinity();

void checkPositive(double value, const char* name)
{
    if (!(value > 0.0) || !std::isfinite(value))
        throw Error(say("The {} is {}, but it must be a number above 0.", name, value));
}

} // namespace

void ThinLens::check() const
{
    checkPositive(focalLengthMm, "focal length");
    checkPositive(fStop, "f-stop");
    if (std::isnan(focusDistanceMm) || focusDistanceMm <= focalLengthMm)
        throw Error(say("The focus distance is {:g} mm, which is not beyond the focal length of {:g} mm. "
                        "Give a larger focus distance, or check the unit.",
                        focusDistanceMm, focalLengthMm));
}

double circleOfConfusionAtInfinityMm(const ThinLens& lens) noexcept
{
    return lens.apertureMm() * lens.focalLengthMm / (lens.focusDistanceMm - lens.extensionMm());
}

double circleOfConfusionMm(const ThinLens& lens, double distanceMm) noexcept
{
    const bool gap = !(distanceMm > 0.0) || !std::isfinite(distanceMm);
    if (std::isinf(lens.focusDistanceMm)) // the limit of the formula for s to infinity
        return gap ? 0.0 : -lens.apertureMm() * lens.focalLengthMm / distanceMm;
    const double atInfinity = circleOfConfusionAtInfinityMm(lens);
    return gap ? atInfinity : atInfinity * (1.0 - lens.focusDistanceMm / distanceMm);
}

double hyperfocalMm(const ThinLens& lens, double acceptedCocMm) noexcept
{
    return lens.focalLengthMm * lens.focalLengthMm / (lens.fStop * acceptedCocMm) + lens.extensionMm();
}

SharpZone sharpZone(const ThinLens& lens, double acceptedCocMm) noexcept
{
    const double e = lens.extensionMm();
    const double s = lens.focusDistanceMm;
    const double h = hyperfocalMm(lens, acceptedCocMm);
    if (std::isinf(s)) return {h - e, kInfinity};
    return {s * (h - e) / (h + s - 2.0 * e), s >= h ? kInfinity : s * (h - e) / (h - s)};
}

double fStopForCoc(const ThinLens& lens, double distanceMm, double cocMm) noexcept
{
    ThinLens open = lens;
    open.fStop = 1.0;
    const double atOne = std::abs(circleOfConfusionMm(open, distanceMm)); // CoC is proportional to 1/N
    return atOne > 0.0 ? atOne / cocMm : kInfinity;
}

double fullStop(int index) noexcept
{
    return std::exp2(index / 2.0);
}

} // namespace retinex::optics
