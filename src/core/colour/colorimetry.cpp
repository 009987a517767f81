#include "core/colour/colorimetry.h"

namespace retinex::colour {

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

Chromaticity whiteOf(const Primaries& primaries)
{
    return {static_cast<double>(primaries[6]), static_cast<double>(primaries[7])};
}

Matrix toXyz(const Primaries& p)
{
    Matrix columns{};
    for (std::size_t i = 0; i < 3; ++i) {
        const double x = static_cast<double>(p[2 * i]);
        const double y = static_cast<double>(p[2 * i + 1]);
        columns[0][i] = x;
        columns[1][i] = y;
        columns[2][i] = 1.0 - x - y;
    }
    return columns * diagonal(inverse(columns) * xyzOf(whiteOf(p)));
}

Matrix adaptation(const Chromaticity& from, const Chromaticity& to)
{
    constexpr Matrix cones{{{0.8951, 0.2664, -0.1614}, {-0.7502, 1.7135, 0.0367}, {0.0389, -0.0685, 1.0296}}};
    const Vector a = cones * xyzOf(from);
    const Vector b = cones * xyzOf(to);
    return inverse(cones) * diagonal({b[0] / a[0], b[1] / a[1], b[2] / a[2]}) * cones;
}

} // namespace retinex::colour
