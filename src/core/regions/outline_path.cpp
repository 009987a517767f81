#include "core/regions/outline_path.h"

#include <algorithm>
#include <cmath>

namespace retinex::regions {

namespace {

Point sum(const Point& a, const Point& b)
{
    return {a.x + b.x, a.y + b.y};
}

Point times(const Point& a, double factor)
{
    return {factor * a.x, factor * a.y};
}

/// The handle on one side of a point: towards `other`, which is the point next to it there.
Point handle(const OutlinePoint& point, const OutlinePoint& before, const OutlinePoint& after, bool isLeaving)
{
    if (point.turn == Turn::own) return isLeaving ? point.leaving : point.arriving;
    if (point.turn == Turn::corner) return {};
    const Point along = times({after.at.x - before.at.x, after.at.y - before.at.y}, 1.0 / 6.0);
    return isLeaving ? along : times(along, -1.0);
}

/// Signed area to the right of a line, into differences along rows: a running sum makes it coverage.
/// x lies within 0 and the width, y within 0 and the height.
void addLine(Point from, Point to, Plane<float>& differences)
{
    if (from.y == to.y) return;
    const float sign = from.y < to.y ? 1.0F : -1.0F;
    if (from.y > to.y) std::swap(from, to);
    const double slope = (to.x - from.x) / (to.y - from.y);
    const int width = differences.width() - 2;
    const int lastRow = differences.height() - 1;
    for (int row = std::clamp(static_cast<int>(from.y), 0, lastRow); row <= lastRow && row < to.y; ++row) {
        const double top = std::max<double>(row, from.y);
        const double bottom = std::min<double>(row + 1.0, to.y);
        if (bottom <= top) continue;
        double x0 = from.x + (top - from.y) * slope;
        double x1 = from.x + (bottom - from.y) * slope;
        if (x0 > x1) std::swap(x0, x1);
        const double height = bottom - top;
        float* out = differences.row(row);
        const int first = std::clamp(static_cast<int>(std::floor(x0)), 0, width);
        const int last = std::clamp(static_cast<int>(std::ceil(x1)) - 1, first, width);
        // How much of each pixel lies to the right of the line, as a running sum of what is added.
        double before = 0.0;
        for (int x = first; x <= last; ++x) {
            const double a = std::max(x0, static_cast<double>(x));
            const double b = std::min(x1, x + 1.0);
            // The line's share within this pixel covers what is right of it; what it has passed covers it
            // whole.
            const double length = x1 - x0;
            const double within = length > 1e-12 ? std::max(0.0, b - a) / length : 1.0;
            const double passed =
                length > 1e-12 ? std::clamp((static_cast<double>(x) - x0) / length, 0.0, 1.0) : 0.0;
            const double middle = length > 1e-12 ? 0.5 * (a + b) : x0;
            const double covered = passed + within * (x + 1.0 - middle);
            out[x] += sign * static_cast<float>(height * (covered - before));
            before = covered;
        }
        out[last + 1] += sign * static_cast<float>(height * (1.0 - before));
    }
}

} // namespace

std::vector<Point> outlineCurve(const std::vector<OutlinePoint>& points)
{
    std::vector<Point> curve;
    const std::size_t count = points.size();
    if (count < 2) return curve;
    for (std::size_t i = 0; i < count; ++i) {
        const OutlinePoint& from = points[i];
        const OutlinePoint& to = points[(i + 1) % count];
        const Point p0 = from.at;
        const Point p1 = sum(p0, handle(from, points[(i + count - 1) % count], to, true));
        const Point p3 = to.at;
        const Point p2 = sum(p3, handle(to, from, points[(i + 2) % count], false));
        curve.push_back(p0);
        if (from.turn == Turn::corner && to.turn == Turn::corner) continue;
        // Sides of a curve with n pieces depart by at most 6 max|second difference| / (8 n^2)
        // (Wang, 1984, "The subdivision method for finding the intersection").
        const auto second = [](const Point& a, const Point& b, const Point& c) {
            return std::hypot(a.x - 2.0 * b.x + c.x, a.y - 2.0 * b.y + c.y);
        };
        const double bend = std::max(second(p0, p1, p2), second(p1, p2, p3));
        const int pieces = std::clamp(static_cast<int>(std::ceil(std::sqrt(0.75 * bend / 0.02))), 1, 400);
        for (int piece = 1; piece < pieces; ++piece) {
            const double t = static_cast<double>(piece) / pieces;
            const double u = 1.0 - t;
            const double b0 = u * u * u, b1 = 3.0 * u * u * t, b2 = 3.0 * u * t * t, b3 = t * t * t;
            curve.push_back({b0 * p0.x + b1 * p1.x + b2 * p2.x + b3 * p3.x,
                             b0 * p0.y + b1 * p1.y + b2 * p2.y + b3 * p3.y});
        }
    }
    return curve;
}

void addPolygon(const std::vector<Point>& polygon, int left, int top, Plane<float>& coverage)
{
    const int width = coverage.width();
    const int height = coverage.height();
    if (polygon.size() < 3 || width == 0 || height == 0) return;
    Plane<float> differences(width + 2, height);
    int firstRow = height;
    int lastRow = -1;
    for (std::size_t i = 0; i < polygon.size(); ++i) {
        Point a{polygon[i].x - left, polygon[i].y - top};
        const Point& next = polygon[(i + 1) % polygon.size()];
        Point b{next.x - left, next.y - top};
        if (!std::isfinite(a.x + a.y + b.x + b.y)) continue;
        if ((a.y < 0.0 && b.y < 0.0) || (a.y > height && b.y > height)) continue;
        const auto atY = [&](double y) { return Point{a.x + (y - a.y) / (b.y - a.y) * (b.x - a.x), y}; };
        Point from = a.y < 0.0 ? atY(0.0) : a.y > height ? atY(height) : a;
        Point to = b.y < 0.0 ? atY(0.0) : b.y > height ? atY(height) : b;
        firstRow = std::min(firstRow, static_cast<int>(std::min(from.y, to.y)));
        lastRow = std::max(lastRow, std::min(height - 1, static_cast<int>(std::max(from.y, to.y))));
        // Beyond the sides a line goes straight along them.
        std::vector<double> shares{0.0};
        for (const double x : {0.0, static_cast<double>(width)}) {
            const double t = (x - from.x) / (to.x - from.x);
            if (t > 0.0 && t < 1.0) shares.push_back(t);
        }
        shares.push_back(1.0);
        std::sort(shares.begin(), shares.end());
        const auto held = [&](double t) {
            return Point{std::clamp(from.x + t * (to.x - from.x), 0.0, static_cast<double>(width)),
                         from.y + t * (to.y - from.y)};
        };
        for (std::size_t s = 0; s + 1 < shares.size(); ++s)
            addLine(held(shares[s]), held(shares[s + 1]), differences);
    }
    for (int y = std::max(0, firstRow); y <= lastRow; ++y) {
        double sumSoFar = 0.0;
        const float* in = differences.row(y);
        float* out = coverage.row(y);
        for (int x = 0; x < width; ++x) {
            sumSoFar += static_cast<double>(in[x]);
            const auto covered = static_cast<float>(std::min(1.0, std::abs(sumSoFar)));
            if (covered > 1e-6F) out[x] += (1.0F - out[x]) * covered;
        }
    }
}

std::vector<OutlinePoint> ellipse(const Point& a, const Point& b)
{
    const Point middle{0.5 * (a.x + b.x), 0.5 * (a.y + b.y)};
    const double rx = 0.5 * std::abs(b.x - a.x);
    const double ry = 0.5 * std::abs(b.y - a.y);
    constexpr double k = 0.5522847498; // 4/3 (sqrt 2 - 1)
    const auto point = [&](double x, double y, double tx, double ty) {
        OutlinePoint made{{middle.x + rx * x, middle.y + ry * y}, Turn::own};
        made.leaving = {k * rx * tx, k * ry * ty};
        made.arriving = {-made.leaving.x, -made.leaving.y};
        return made;
    };
    return {point(1, 0, 0, 1), point(0, 1, -1, 0), point(-1, 0, 0, -1), point(0, -1, 1, 0)};
}

std::vector<OutlinePoint> rectangle(const Point& a, const Point& b)
{
    std::vector<OutlinePoint> points;
    for (const Point& corner : {a, Point{b.x, a.y}, b, Point{a.x, b.y}})
        points.push_back({corner, Turn::corner});
    return points;
}

} // namespace retinex::regions
