#include "core/finish/white_balance.h"

#include "core/colour/primaries.h"

#include <algorithm>
#include <cmath>

namespace retinex::finish {

namespace {

using colour::Vector;
using colour::operator*; // on arrays of the standard library, whose namespace is looked in
using colour::inverse;

/// CIE 1960 UCS, in which distances from the locus are told.
struct Uv
{
    double u = 0.0;
    double v = 0.0;
};

Uv uvOf(const Chromaticity& c)
{
    const double d = -2.0 * c.x + 12.0 * c.y + 3.0;
    return {4.0 * c.x / d, 6.0 * c.y / d};
}

Chromaticity xyOf(const Uv& c)
{
    const double d = 2.0 * c.u - 8.0 * c.v + 4.0;
    return {3.0 * c.u / d, 2.0 * c.v / d};
}

Uv daylight(double kelvin)
{
    const double t = 1000.0 / kelvin;
    const double x = kelvin <= 7000.0 ? ((-4.6070 * t + 2.9678) * t + 0.09911) * t + 0.244063
                                      : ((-2.0064 * t + 1.9018) * t + 0.24748) * t + 0.237040;
    return uvOf({x, -3.0 * x * x + 2.870 * x - 0.275});
}

Uv planckian(double kelvin)
{
    const double t = kelvin;
    return {(0.860117757 + 1.54118254e-4 * t + 1.28641212e-7 * t * t) /
                (1.0 + 8.42420235e-4 * t + 7.08145163e-7 * t * t),
            (0.317398726 + 4.22806245e-5 * t + 4.20481691e-8 * t * t) /
                (1.0 - 2.89741816e-5 * t + 1.61456053e-7 * t * t)};
}

Uv locus(double kelvin)
{
    if (kelvin >= 5000.0) return daylight(kelvin);
    const Uv hot = planckian(kelvin);
    if (kelvin <= 4000.0) return hot;
    const Uv day = daylight(kelvin);
    const double share = (kelvin - 4000.0) / 1000.0;
    return {hot.u + share * (day.u - hot.u), hot.v + share * (day.v - hot.v)};
}

/// Across the locus, towards green; of length 1.
Uv across(double kelvin)
{
    const Uv a = locus(kelvin * 0.999);
    const Uv b = locus(kelvin * 1.001);
    const double length = std::hypot(b.u - a.u, b.v - a.v);
    Uv normal{-(b.v - a.v) / length, (b.u - a.u) / length};
    if (normal.v < 0.0) normal = {-normal.u, -normal.v};
    return normal;
}

Chromaticity neutral()
{
    return xyOf(locus(WhiteBalance::kNeutralK));
}

/// Of the scene-linear space, to XYZ with its white at D65.
Matrix toNeutralXyz()
{
    const colour::Primaries primaries = colour::primariesOf({}).value_or(colour::kRec709);
    return adaptation(colour::whiteOf(primaries), neutral()) * colour::toXyz(primaries);
}

} // namespace

Chromaticity whiteOf(const WhiteBalance& balance)
{
    const double kelvin = std::clamp(balance.temperatureK, kCoolestK, kHottestK);
    const Uv on = locus(kelvin);
    const Uv normal = across(kelvin);
    return xyOf({on.u + 0.001 * balance.tint * normal.u, on.v + 0.001 * balance.tint * normal.v});
}

Matrix balanceMatrix(const WhiteBalance& balance)
{
    const Matrix xyz = toNeutralXyz();
    return inverse(xyz) * adaptation(whiteOf(balance), neutral()) * xyz;
}

WhiteBalance balanceFor(const std::array<double, 3>& rgb)
{
    const Vector xyz = toNeutralXyz() * rgb;
    const double sum = xyz[0] + xyz[1] + xyz[2];
    WhiteBalance found;
    if (!(sum > 1e-9) || !(xyz[1] > 0.0)) return found;
    const Uv seen = uvOf({xyz[0] / sum, xyz[1] / sum});
    // Evenly in 1/K, in which the eye sees steps alike; then closer and closer.
    const auto off = [&](double mired) {
        const Uv on = locus(1e6 / mired);
        return std::hypot(on.u - seen.u, on.v - seen.v);
    };
    double low = 1e6 / kHottestK;
    double high = 1e6 / kCoolestK;
    double best = low;
    for (int i = 0; i <= 200; ++i) {
        const double mired = low + (high - low) * i / 200.0;
        if (off(mired) < off(best)) best = mired;
    }
    const double step = (high - low) / 200.0;
    double a = std::max(low, best - step);
    double b = std::min(high, best + step);
    for (int i = 0; i < 60; ++i) {
        const double m1 = a + (b - a) / 3.0;
        const double m2 = b - (b - a) / 3.0;
        (off(m1) < off(m2) ? b : a) = off(m1) < off(m2) ? m2 : m1;
    }
    found.temperatureK = 1e6 / (0.5 * (a + b));
    const Uv on = locus(found.temperatureK);
    const Uv normal = across(found.temperatureK);
    found.tint = 1000.0 * ((seen.u - on.u) * normal.u + (seen.v - on.v) * normal.v);
    return found;
}

} // namespace retinex::finish
