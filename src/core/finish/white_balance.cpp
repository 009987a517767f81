#include "core/finish/white_balance.h"

#include "core/colour/input_space.h"

#include <algorithm>
#include <cmath>

namespace retinex::finish {

namespace {

using Vector = std::array<double, 3>;

Vector operator*(const Matrix& m, const Vector& v)
{
    Vector result{};
    for (std::size_t row = 0; row < 3; ++row)
        for (std::size_t k = 0; k < 3; ++k)
            result[row] += m[row][k] * v[k];
    return result;
}

Matrix operator*(const Matrix& a, const Matrix& b)
{
    Matrix result{};
    for (std::size_t row = 0; row < 3; ++row)
        for (std::size_t column = 0; column < 3; ++column)
            for (std::size_t k = 0; k < 3; ++k)
                result[row][column] += a[row][k] * b[k][column];
    return result;
}

Matrix inverse(const Matrix& m)
{
    const auto minor = [&](std::size_t r, std::size_t c) {
        const std::size_t r1 = (r + 1) % 3;
        const std::size_t r2 = (r + 2) % 3;
        const std::size_t c1 = (c + 1) % 3;
        const std::size_t c2 = (c + 2) % 3;
        return m[r1][c1] * m[r2][c2] - m[r1][c2] * m[r2][c1];
    };
    const double determinant = m[0][0] * minor(0, 0) + m[0][1] * minor(0, 1) + m[0][2] * minor(0, 2);
    Matrix result{};
    for (std::size_t r = 0; r < 3; ++r)
        for (std::size_t c = 0; c < 3; ++c)
            result[r][c] = minor(c, r) / determinant;
    return result;
}

Matrix diagonal(const Vector& v)
{
    return {{{v[0], 0.0, 0.0}, {0.0, v[1], 0.0}, {0.0, 0.0, v[2]}}};
}

Vector xyzOf(const Chromaticity& c)
{
    return {c.x / c.y, 1.0, (1.0 - c.x - c.y) / c.y};
}

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

/// Bradford's cone responses.
constexpr Matrix kCones{{{0.8951, 0.2664, -0.1614}, {-0.7502, 1.7135, 0.0367}, {0.0389, -0.0685, 1.0296}}};

Matrix adaptation(const Chromaticity& from, const Chromaticity& to)
{
    const Vector a = kCones * xyzOf(from);
    const Vector b = kCones * xyzOf(to);
    return inverse(kCones) * diagonal({b[0] / a[0], b[1] / a[1], b[2] / a[2]}) * kCones;
}

Chromaticity neutral()
{
    return xyOf(locus(WhiteBalance::kNeutralK));
}

/// Of the scene-linear space, to XYZ with its white at D65. Those of Rec. ITU-R BT.709-6 where nobody says.
Matrix toXyz()
{
    const auto given = colour::sceneLinearChromaticities();
    const std::array<float, 8> c =
        given.value_or(std::array<float, 8>{0.64F, 0.33F, 0.30F, 0.60F, 0.15F, 0.06F, 0.3127F, 0.3290F});
    Matrix primaries{};
    for (std::size_t i = 0; i < 3; ++i) {
        const Vector xyz = xyzOf({c[2 * i], c[2 * i + 1]});
        for (std::size_t row = 0; row < 3; ++row)
            primaries[row][i] = xyz[row];
    }
    const Chromaticity white{c[6], c[7]};
    const Vector scale = inverse(primaries) * xyzOf(white);
    return adaptation(white, neutral()) * primaries * diagonal(scale);
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
    const Matrix xyz = toXyz();
    return inverse(xyz) * adaptation(whiteOf(balance), neutral()) * xyz;
}

WhiteBalance balanceFor(const std::array<double, 3>& rgb)
{
    const Vector xyz = toXyz() * rgb;
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
