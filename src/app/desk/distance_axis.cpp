#include "app/desk/distance_axis.h"

#include <algorithm>
#include <cmath>

namespace retinex::app {

DistanceAxis::DistanceAxis(double nearest, double farthest, double height, AxisScale scale)
    : m_nearest(nearest), m_farthest(std::max(farthest, nearest * 1.001)), m_height(height), m_scale(scale)
{
}

double DistanceAxis::mapped(double distance) const
{
    switch (m_scale) {
    case AxisScale::log:
        return std::log(distance);
    case AxisScale::dioptre:
        return -1.0 / distance;
    default:
        return distance;
    }
}

double DistanceAxis::toY(double distance) const
{
    const double low = mapped(m_nearest);
    const double high = mapped(m_farthest);
    if (!(distance > 0.0)) return m_height * 2.0;
    const double share = (mapped(distance) - low) / (high - low);
    return std::clamp(m_height * (1.0 - share), -m_height, 2.0 * m_height);
}

double DistanceAxis::toDistance(double y) const
{
    const double low = mapped(m_nearest);
    const double high = mapped(m_farthest);
    const double value = low + (1.0 - std::clamp(y / m_height, 0.0, 1.0)) * (high - low);
    switch (m_scale) {
    case AxisScale::log:
        return std::exp(value);
    case AxisScale::dioptre:
        return -1.0 / value;
    default:
        return value;
    }
}

std::vector<DistanceAxis::Tick> DistanceAxis::ticks(double spacingPx, double unitsPerShown) const
{
    std::vector<Tick> ticks;
    const int first = static_cast<int>(std::floor(std::log10(m_nearest / unitsPerShown)));
    const int last = static_cast<int>(std::ceil(std::log10(m_farthest / unitsPerShown)));
    // Rounder numbers first: they keep their place, others fill in where there is room.
    for (const double factor : {1.0, 5.0, 2.0, 3.0, 7.0, 1.5, 4.0, 8.0, 6.0, 9.0, 2.5}) {
        for (int power = first; power <= last; ++power) {
            const double distance = factor * std::pow(10.0, power) * unitsPerShown;
            const double y = toY(distance);
            if (distance < m_nearest || distance > m_farthest || y < 4.0 || y > m_height - 4.0) continue;
            const bool clear = std::all_of(ticks.begin(), ticks.end(),
                                           [&](const Tick& t) { return std::abs(t.y - y) >= spacingPx; });
            if (clear) ticks.push_back({distance, y});
        }
    }
    std::sort(ticks.begin(), ticks.end(),
              [](const Tick& a, const Tick& b) { return a.distance < b.distance; });
    return ticks;
}

} // namespace retinex::app
