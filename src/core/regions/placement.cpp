#include "core/regions/placement.h"

#include "core/regions/outline_path.h"
#include "core/system/say.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace retinex::regions {

Homography Homography::about(const Point& middle, double turnDeg, double size)
{
    const double angle = turnDeg * std::numbers::pi / 180.0;
    const double c = size * std::cos(angle);
    const double s = size * std::sin(angle);
    return Homography({c, s, middle.x - c * middle.x - s * middle.y, //
                       -s, c, middle.y + s * middle.x - c * middle.y, 0, 0, 1});
}

Homography Homography::ofTwo(const std::array<Point, 2>& from, const std::array<Point, 2>& to)
{
    // As complex numbers: the quotient of the two differences.
    const double ux = from[1].x - from[0].x;
    const double uy = from[1].y - from[0].y;
    const double vx = to[1].x - to[0].x;
    const double vy = to[1].y - to[0].y;
    const double square = ux * ux + uy * uy;
    if (square < 1e-12) return shift(to[0].x - from[0].x, to[0].y - from[0].y);
    const double c = (ux * vx + uy * vy) / square;
    const double s = (ux * vy - uy * vx) / square;
    return Homography({c, -s, to[0].x - c * from[0].x + s * from[0].y, //
                       s, c, to[0].y - s * from[0].x - c * from[0].y, 0, 0, 1});
}

std::optional<Homography> Homography::ofFour(const std::array<Point, 4>& from, const std::array<Point, 4>& to)
{
    std::array<std::array<double, 9>, 8> rows{};
    for (std::size_t i = 0; i < 4; ++i) {
        const auto& [x, y] = from[i];
        const auto& [u, v] = to[i];
        rows[2 * i] = {x, y, 1, 0, 0, 0, -x * u, -y * u, u};
        rows[2 * i + 1] = {0, 0, 0, x, y, 1, -x * v, -y * v, v};
    }
    // Gauss and Jordan, with the largest pivot of each column.
    for (std::size_t column = 0; column < 8; ++column) {
        const auto best = std::max_element(
            rows.begin() + static_cast<std::ptrdiff_t>(column), rows.end(),
            [&](const auto& a, const auto& b) { return std::abs(a[column]) < std::abs(b[column]); });
        if (std::abs((*best)[column]) < 1e-9) return std::nullopt;
        std::swap(*best, rows[column]);
        for (std::size_t row = 0; row < 8; ++row) {
            if (row == column) continue;
            const double times = rows[row][column] / rows[column][column];
            for (std::size_t i = column; i < 9; ++i)
                rows[row][i] -= times * rows[column][i];
        }
    }
    std::array<double, 9> result{};
    for (std::size_t i = 0; i < 8; ++i)
        result[i] = rows[i][8] / rows[i][i];
    result[8] = 1.0;
    return Homography(result);
}

Point Homography::operator()(const Point& point) const noexcept
{
    const auto& m = m_rows;
    double w = m[6] * point.x + m[7] * point.y + m[8];
    if (std::abs(w) < 1e-9) w = std::copysign(1e-9, w); // on the horizon: very far
    return {(m[0] * point.x + m[1] * point.y + m[2]) / w, (m[3] * point.x + m[4] * point.y + m[5]) / w};
}

Homography Homography::after(const Homography& other) const noexcept
{
    std::array<double, 9> product{};
    for (std::size_t row = 0; row < 3; ++row)
        for (std::size_t column = 0; column < 3; ++column)
            for (std::size_t i = 0; i < 3; ++i)
                product[3 * row + column] += m_rows[3 * row + i] * other.m_rows[3 * i + column];
    return Homography(product);
}

std::optional<Homography> Homography::inverse() const noexcept
{
    const auto& m = m_rows;
    const double a = m[4] * m[8] - m[5] * m[7];
    const double b = m[5] * m[6] - m[3] * m[8];
    const double c = m[3] * m[7] - m[4] * m[6];
    const double determinant = m[0] * a + m[1] * b + m[2] * c;
    if (std::abs(determinant) < 1e-12) return std::nullopt;
    std::array<double, 9> rows{a, m[2] * m[7] - m[1] * m[8], m[1] * m[5] - m[2] * m[4], //
                               b, m[0] * m[8] - m[2] * m[6], m[2] * m[3] - m[0] * m[5], //
                               c, m[1] * m[6] - m[0] * m[7], m[0] * m[4] - m[1] * m[3]};
    for (double& each : rows)
        each /= determinant;
    return Homography(rows);
}

double Homography::sizeAt(const Point& point) const noexcept
{
    const Point here = (*this)(point);
    const Point right = (*this)({point.x + 1.0, point.y});
    const Point down = (*this)({point.x, point.y + 1.0});
    return std::sqrt(
        std::abs((right.x - here.x) * (down.y - here.y) - (right.y - here.y) * (down.x - here.x)));
}

Point middleOf(const Area& area)
{
    constexpr double kNone = 1e300;
    double left = kNone, right = -kNone, top = kNone, bottom = -kNone;
    const auto add = [&](const Point& point) {
        left = std::min(left, point.x);
        right = std::max(right, point.x);
        top = std::min(top, point.y);
        bottom = std::max(bottom, point.y);
    };
    for (const Piece& piece : area.pieces()) {
        if (!piece.outline.empty())
            for (const OutlinePoint& point : piece.outline.front().points)
                add(point.at);
        for (const Stroke& stroke : piece.strokes)
            for (const StrokePoint& point : stroke.points)
                add(point.at);
    }
    return left > right ? Point{} : Point{0.5 * (left + right), 0.5 * (top + bottom)};
}

std::vector<OutlinePoint> pointsAt(const std::vector<OutlineMark>& outline, double frame)
{
    if (outline.empty()) return {};
    const auto next = std::find_if(outline.begin(), outline.end(),
                                   [&](const OutlineMark& mark) { return mark.frame >= frame; });
    if (next == outline.end()) return outline.back().points;
    if (next == outline.begin() || next->frame == frame) return next->points;
    const OutlineMark& before = *(next - 1);
    const double t = (frame - before.frame) / (next->frame - before.frame);
    const auto between = [t](const Point& a, const Point& b) {
        return Point{a.x + t * (b.x - a.x), a.y + t * (b.y - a.y)};
    };
    std::vector<OutlinePoint> points = before.points;
    for (std::size_t i = 0; i < std::min(points.size(), next->points.size()); ++i) {
        const OutlinePoint& to = next->points[i];
        points[i].at = between(points[i].at, to.at);
        points[i].arriving = between(points[i].arriving, to.arriving);
        points[i].leaving = between(points[i].leaving, to.leaving);
    }
    return points;
}

Homography placementOf(const Region& region, int frame, const PlaceOf& placeOf,
                       std::vector<std::string>* problems)
{
    Homography follow;
    const std::vector<std::string> names = followedSubjects(region);
    std::vector<Point> from;
    std::vector<Point> to;
    for (const std::string& name : names) {
        const auto was = placeOf(name, region.followsFrom);
        const auto is = placeOf(name, frame);
        if (was && is) {
            from.push_back(*was);
            to.push_back(*is);
        } else if (problems) {
            problems->push_back(
                say("follows \"{}\", which is not seen on frame {}", name, was ? frame : region.followsFrom));
        }
    }
    if (from.size() >= 4) {
        if (const auto four =
                Homography::ofFour({from[0], from[1], from[2], from[3]}, {to[0], to[1], to[2], to[3]}))
            follow = *four;
        else if (problems)
            problems->push_back(
                say("follows four subjects of which three lie in one line on frame {}", frame));
    } else if (from.size() >= 2) {
        follow = Homography::ofTwo({from[0], from[1]}, {to[0], to[1]});
    } else if (from.size() == 1) {
        follow = Homography::shift(to[0].x - from[0].x, to[0].y - from[0].y);
    }
    const Point middle = follow(middleOf(region.area));
    return Homography::shift(region.moveX, region.moveY)
        .after(Homography::about(middle, region.turnDeg, region.size))
        .after(follow);
}

PlacedRegion placed(const Region& region, int frame, const PlaceOf& placeOf)
{
    PlacedRegion result{region, {}};
    const Homography placement = placementOf(region, frame, placeOf, &result.problems);
    for (const Piece& piece : region.area.pieces()) {
        PlacedPiece laid{&piece, {}, placement};
        if (piece.kind == PieceKind::outline) {
            std::vector<OutlinePoint> points = pointsAt(piece.outline, frame);
            for (OutlinePoint& point : points) {
                // Handles move with their point.
                const Point arriving =
                    placement({point.at.x + point.arriving.x, point.at.y + point.arriving.y});
                const Point leaving = placement({point.at.x + point.leaving.x, point.at.y + point.leaving.y});
                const Point at = placement(point.at);
                point.arriving = {arriving.x - at.x, arriving.y - at.y};
                point.leaving = {leaving.x - at.x, leaving.y - at.y};
                point.at = at;
                if (point.subject.empty()) continue;
                if (const auto bound = placeOf(point.subject, frame))
                    point.at = *bound;
                else
                    result.problems.push_back(
                        say("has a point on \"{}\", which is not seen on frame {}", point.subject, frame));
            }
            laid.polygon = outlineCurve(points);
        }
        result.pieces.push_back(std::move(laid));
    }
    result.ramp = {placement({region.rampX1, region.rampY1}), placement({region.rampX2, region.rampY2})};
    return result;
}

} // namespace retinex::regions
