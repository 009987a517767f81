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

/// The way from one place of a stroke to the next: the most that any of its places covers, in one row.
void addWay(const Dab& a, const Dab& b, double softness, int y, int from, int to, float* row)
{
    const double dx = b.at.x - a.at.x;
    const double dy = b.at.y - a.at.y;
    const double square = dx * dx + dy * dy;
    const double perSquare = square > 0.0 ? 1.0 / square : 0.0;
    const double py = y + 0.5 - a.at.y;
    for (int x = from; x < to; ++x) {
        const double px = x + 0.5 - a.at.x;
        const double t = std::clamp((px * dx + py * dy) * perSquare, 0.0, 1.0);
        const double radius = a.radius + t * (b.radius - a.radius);
        const double offX = px - t * dx;
        const double offY = py - t * dy;
        const double squared = offX * offX + offY * offY;
        if (squared >= (radius + 1.0) * (radius + 1.0)) continue;
        const double strength = a.strength + t * (b.strength - a.strength);
        if (row[x] >= static_cast<float>(strength)) continue; // it covers as much as it can
        row[x] = std::max(row[x],
                          static_cast<float>(strength * brushProfile(std::sqrt(squared), radius, softness)));
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
                Plane<float>& coverage, const Run& run)
{
    const int width = coverage.width();
    const int height = coverage.height();
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
        std::vector<Box> boxes;
        Box all{width, height, 0, 0};
        for (std::size_t i = 0; i < std::max<std::size_t>(1, dabs.size() - 1); ++i) {
            boxes.push_back(boxAround(dabs[i], dabs[std::min(i + 1, dabs.size() - 1)], width, height));
            all = {std::min(all.x0, boxes[i].x0), std::min(all.y0, boxes[i].y0),
                   std::max(all.x1, boxes[i].x1), std::max(all.y1, boxes[i].y1)};
        }
        if (all.x0 >= all.x1 || all.y0 >= all.y1) continue;
        parallelFor(all.y1 - all.y0, run, [&](int row) {
            const int y = all.y0 + row;
            std::vector<float> covered(static_cast<std::size_t>(width));
            for (std::size_t i = 0; i < boxes.size(); ++i)
                if (y >= boxes[i].y0 && y < boxes[i].y1)
                    addWay(dabs[i], dabs[std::min(i + 1, dabs.size() - 1)], stroke.softness, y, boxes[i].x0,
                           boxes[i].x1, covered.data());
            float* out = coverage.row(y);
            for (int x = all.x0; x < all.x1; ++x) {
                const float share = covered[static_cast<std::size_t>(x)];
                out[x] = stroke.erases ? out[x] * (1.0F - share) : out[x] + (1.0F - out[x]) * share;
            }
        });
    }
}

} // namespace retinex::regions
