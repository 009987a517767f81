#include "core/depth/measure.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace retinex::depth {

std::optional<std::pair<double, double>> percentilesIn(const Plane<float>& numbers,
                                                       const Plane<std::uint8_t>& gaps, const PixelRect& rect,
                                                       double low, double high)
{
    std::vector<float> values;
    for (int y = std::max(0, rect.top); y < std::min(numbers.height(), rect.top + rect.height); ++y)
        for (int x = std::max(0, rect.left); x < std::min(numbers.width(), rect.left + rect.width); ++x)
            if (gaps.at(x, y) == 0 && std::isfinite(numbers.at(x, y))) values.push_back(numbers.at(x, y));
    if (values.empty()) return std::nullopt;
    const auto at = [&](double share) {
        const auto it = values.begin() + static_cast<std::ptrdiff_t>(
                                             std::lround(share * static_cast<double>(values.size() - 1)));
        std::nth_element(values.begin(), it, values.end());
        return static_cast<double>(*it);
    };
    const double first = at(low);
    return std::pair{first, at(high)};
}

double spanBetween(const SeenPoint& a, const SeenPoint& b, const ViewGeometry& view) noexcept
{
    const double perPixel =
        2.0 * std::tan(0.5 * view.fieldOfViewDeg * std::numbers::pi / 180.0) / view.frameWidth;
    const auto u = [&](const SeenPoint& p) { return (p.x - view.left - 0.5 * view.frameWidth) * perPixel; };
    const auto v = [&](const SeenPoint& p) {
        return (p.y - view.top - 0.5 * view.frameHeight) * perPixel / view.pixelAspect;
    };
    const double dx = a.distance * u(a) - b.distance * u(b);
    const double dy = a.distance * v(a) - b.distance * v(b);
    const double dz = a.distance - b.distance;
    return std::sqrt(dx * dx + dy * dy + dz * dz);
}

} // namespace retinex::depth
