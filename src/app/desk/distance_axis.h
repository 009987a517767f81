#pragma once

#include <QString>
#include <vector>

namespace retinex::app {

enum class AxisScale { log, dioptre, linear };

/// The distance axis that profile and desk share: distance upward, in scene units. A plain value.
class DistanceAxis
{
public:
    /// nearest and farthest > 0 are the ends; `height` in px.
    DistanceAxis() = default;
    DistanceAxis(double nearest, double farthest, double height, AxisScale scale);

    /// Px from the top. +inf and what is beyond the far end lie above 0, what is nearer below `height`.
    [[nodiscard]] double toY(double distance) const;
    /// The distance at a height, held to the ends.
    [[nodiscard]] double toDistance(double y) const;
    [[nodiscard]] double nearest() const noexcept { return m_nearest; }
    [[nodiscard]] double farthest() const noexcept { return m_farthest; }
    [[nodiscard]] double height() const noexcept { return m_height; }
    friend bool operator==(const DistanceAxis&, const DistanceAxis&) = default;

    struct Tick
    {
        double distance = 0.0;
        double y = 0.0;
    };
    /// Round distances (1, 2, 5 times powers of ten; in the shown unit of `unitsPerShown` scene units), at
    /// least `spacingPx` apart, near to far.
    [[nodiscard]] std::vector<Tick> ticks(double spacingPx, double unitsPerShown = 1.0) const;

private:
    [[nodiscard]] double mapped(double distance) const;

    double m_nearest = 1.0;
    double m_farthest = 10.0;
    double m_height = 100.0;
    AxisScale m_scale = AxisScale::log;
};

} // namespace retinex::app
