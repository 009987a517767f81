#include "core/inserts/placing.h"

#include "core/system/say.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <opencv2/core.hpp>

namespace retinex::inserts {

std::array<Point, 4> cornersOnFrame(const Insert& insert, double width, double height, double frameWidth,
                                    double frameHeight)
{
    std::array<Point, 4> corners = insert.corners;
    if (insert.placing != Placing::corners) {
        double scale = 1.0;
        Point middle{insert.moveX, insert.moveY};
        if (insert.isBackdrop()) {
            const double across = frameWidth / width;
            const double down = frameHeight / height;
            scale = insert.size * (insert.fit == Fit::fill    ? std::max(across, down)
                                   : insert.fit == Fit::whole ? std::min(across, down)
                                                              : 1.0);
            middle = {0.5 * frameWidth + insert.moveX, 0.5 * frameHeight + insert.moveY};
        } else {
            scale = insert.widthPx / width;
        }
        const double x = 0.5 * scale * width;
        const double y = 0.5 * scale * height;
        corners = {Point{middle.x - x, middle.y - y},
                   {middle.x + x, middle.y - y},
                   {middle.x + x, middle.y + y},
                   {middle.x - x, middle.y + y}};
        if (insert.turnDeg != 0.0) {
            const auto turned = regions::Homography::about(middle, insert.turnDeg, 1.0);
            for (Point& corner : corners)
                corner = turned(corner);
        }
    }
    if (insert.isMirrored) {
        std::swap(corners[0], corners[1]);
        std::swap(corners[2], corners[3]);
    }
    return corners;
}

std::string faultOf(const std::array<Point, 4>& corners)
{
    // All turns go one way round: nothing crosses, and no three lie in one line.
    int left = 0;
    int right = 0;
    double extent = 0.0;
    for (std::size_t i = 0; i < 4; ++i)
        extent =
            std::max({extent, std::abs(corners[i].x - corners[0].x), std::abs(corners[i].y - corners[0].y)});
    for (std::size_t i = 0; i < 4; ++i) {
        const Point& a = corners[i];
        const Point& b = corners[(i + 1) % 4];
        const Point& c = corners[(i + 2) % 4];
        const double turn = (b.x - a.x) * (c.y - b.y) - (b.y - a.y) * (c.x - b.x);
        if (!(std::abs(turn) > 1e-6 * extent * extent) || extent < 1e-3)
            return say("has three corners in one line");
        (turn > 0.0 ? right : left) += 1;
    }
    return left > 0 && right > 0 ? say("has corners that cross, or one that is dented in") : std::string();
}

std::optional<regions::Homography> placementTo(const std::array<Point, 4>& corners, double width,
                                               double height)
{
    if (!faultOf(corners).empty()) return std::nullopt;
    return regions::Homography::ofFour({Point{0, 0}, {width, 0}, {width, height}, {0, height}}, corners);
}

double ReciprocalPlane::distanceAt(double x, double y) const noexcept
{
    const double reciprocal = a + b * x + c * y;
    return reciprocal > 1e-12 ? 1.0 / reciprocal : std::numeric_limits<double>::infinity();
}

ReciprocalPlane planeThrough(const std::array<Point, 4>& corners, const std::array<double, 4>& distances)
{
    cv::Matx<double, 4, 3> places;
    cv::Matx<double, 4, 1> values;
    for (int i = 0; i < 4; ++i) {
        const auto k = static_cast<std::size_t>(i);
        places(i, 0) = 1.0;
        places(i, 1) = corners[k].x;
        places(i, 2) = corners[k].y;
        values(i, 0) = 1.0 / distances[k];
    }
    const cv::Matx<double, 3, 1> plane = places.solve(values, cv::DECOMP_SVD);
    return {plane(0, 0), plane(1, 0), plane(2, 0)};
}

std::optional<int> frameShown(const Insert& insert, int frame, int first, int last)
{
    const int count = last - first + 1;
    const int at = frame - insert.startFrame;
    if (count <= 1 || (at >= 0 && at < count)) return first + (count <= 1 ? 0 : at);
    switch (insert.ending) {
    case Ending::hold:
        return at < 0 ? first : last;
    case Ending::loop:
        return first + ((at % count) + count) % count;
    case Ending::leave:
        break;
    }
    return std::nullopt;
}

} // namespace retinex::inserts
