#pragma once

#include <array>

/// Sums of colorimetry with 3 x 3 matrices.
namespace retinex::colour {

using Vector = std::array<double, 3>;
using Matrix = std::array<std::array<double, 3>, 3>; ///< by rows

/// CIE 1931 x, y.
struct Chromaticity
{
    double x = 0.0;
    double y = 0.0;
};

/// x, y of red, green, blue and white, as the OpenEXR attribute `chromaticities` has them.
using Primaries = std::array<float, 8>;

[[nodiscard]] Vector operator*(const Matrix& m, const Vector& v);
[[nodiscard]] Matrix operator*(const Matrix& a, const Matrix& b);
[[nodiscard]] Matrix inverse(const Matrix& m);
[[nodiscard]] Matrix diagonal(const Vector& v);

/// Of luminance 1.
[[nodiscard]] Vector xyzOf(const Chromaticity& c);
[[nodiscard]] Chromaticity whiteOf(const Primaries& primaries);

/// RGB to XYZ (SMPTE RP 177-1993).
[[nodiscard]] Matrix toXyz(const Primaries& primaries);
/// Bradford's chromatic adaptation (ICC.1:2010, annex E) of XYZ from one white to another.
[[nodiscard]] Matrix adaptation(const Chromaticity& from, const Chromaticity& to);

} // namespace retinex::colour
