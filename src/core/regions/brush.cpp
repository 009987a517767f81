#include "core/regions/brush.h"

#include <algorithm>
#include <cmath>

namespace retinex::regions {

namespace {

struct Dab
{
    Point at;
    double radius;
    double strength;
};

/// Pixels of a plane.
struct Box
{
    int x0, y0, x1, y1; ///< x1, y1: the first beyond
};

Box boxAround(const Dab& a, const Dab& b, int width, int height)
{
    const double reach = std::max(a.radius, b.radius) + 1.0;
    const auto held = [](double value, int most) {
        return static_cast<int>(std::clamp(value, 0.0, static_cast<double>(most)));
    };
    return {held(std::floor(std::min(a.at.x, b.at.x) - reach), width),
            held(std::floor(std::min(a.at.y, b.at.y) - reach), height),
            held(std::ceil(std::max(a.at.x, b.at.x) + reach) + 1.0, width),
            held(std::ceil(std::max(a.at.y, b.at.y) + reach) + 1.0, height)};
}

/// The way from one place of a stroke to the next: the most that any of its places covers.
void addWay(const Dab& a, const Dab& b, double softness, const Box& box, Plane<float>& covered)
{
    const double dx = b.at.x - a.at.x;
    const double dy = b.at.y - a.at.y;
    const double square = dx * dx + dy * dy;
    for (int y = box.y0; y < box.y1; ++y) {
        float* row = covered.row(y);
        for (int x = box.x0; x < box.x1; ++x) {
            const double px = x + 0.5 - a.at.x;
            const double py = y + 0.5 - a.at.y;
            const double t = square > 0.0 ? std::clamp((px * dx + py * dy) / square, 0.0, 1.0) : 0.0;
            const double radius = a.radius + t * (b.radius - a.radius);
            const double distance = std::hypot(px - t * dx, py - t * dy);
            if (distance >= radius + 1.0) continue;
            const double share =
                (a.strength + t * (b.strength - a.strength)) * brushProfile(distance, radius, softness);
            row[x] = std::max(row[x], static_cast<float>(share));
        }
    }
}

} // namespace

double brushProfile(double distance, double radiusPx, double softness) noexcept
{
    const double soft = std::max(1.0, softness * radiusPx);
    // A hard rim has its pixel half within, half beyond the radius.
    const double ends = radiusPx + std::max(0.0, 0.5 * (1.0 - softness * radiusPx));
    const double s = std::clamp((distance - (ends - soft)) / soft, 0.0, 1.0);
    return 1.0 - s * s * (3.0 - 2.0 * s);
}

void addStrokes(const std::vector<Stroke>& strokes, const Homography& placement, int left, int top,
                Plane<float>& coverage)
{
    const int width = coverage.width();
    const int height = coverage.height();
    Plane<float> covered(width, height);
    for (const Stroke& stroke : strokes) {
        if (stroke.points.empty() || width == 0 || height == 0) continue;
        std::vector<Dab> dabs;
        for (const StrokePoint& point : stroke.points) {
            const Point at = placement(point.at);
            const double pressure = static_cast<double>(point.pressure);
            dabs.push_back({{at.x - left, at.y - top},
                            std::min(1e5, stroke.radiusPx * pressure * placement.sizeAt(point.at)),
                            stroke.strength * pressure});
        }
        Box all{width, height, 0, 0};
        for (std::size_t i = 0; i < dabs.size(); ++i) {
            const Dab& next = dabs[std::min(i + 1, dabs.size() - 1)];
            if (i + 1 == dabs.size() && i > 0) break;
            const Box box = boxAround(dabs[i], next, width, height);
            addWay(dabs[i], next, stroke.softness, box, covered);
            all = {std::min(all.x0, box.x0), std::min(all.y0, box.y0), std::max(all.x1, box.x1),
                   std::max(all.y1, box.y1)};
        }
        for (int y = all.y0; y < all.y1; ++y)
            for (int x = all.x0; x < all.x1; ++x) {
                float& share = covered.at(x, y);
                float& out = coverage.at(x, y);
                out = stroke.erases ? out * (1.0F - share) : out + (1.0F - out) * share;
                share = 0.0F; // for the next stroke
            }
    }
}

} // namespace retinex::regions
