#pragma once

#include <array>
#include <cmath>

namespace retinex::reference {

using EvenPoint = std::array<double, 4>;

/// Points in four dimensions, each in 0..1, moved by `shift`: an additive recurrence, of which every run is
/// evenly spread. Source: Roberts, "The Unreasonable Effectiveness of Quasirandom Sequences", 2018
/// (generalised golden ratio: the root of x^5 = x + 1, from memory).
[[nodiscard]] inline EvenPoint evenPoint(int index, const EvenPoint& shift = {})
{
    constexpr double root = 1.1673039782614187;
    EvenPoint point{};
    double step = 1.0;
    for (std::size_t i = 0; i < point.size(); ++i) {
        step /= root;
        const double v = shift[i] + step * (index + 1);
        point[i] = v - std::floor(v);
    }
    return point;
}

} // namespace retinex::reference
