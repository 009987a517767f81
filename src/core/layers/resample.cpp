#include "core/layers/resample.h"

#include "core/base/cut.h"
#include "core/regions/outline_path.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

namespace retinex::layers {

namespace {

using optics::Point;
using regions::Homography;

cv::Mat viewOf(const Plane<float>& plane)
{
    return {plane.height(), plane.width(), CV_32F, const_cast<float*>(plane.row(0))};
}

/// Whether pixels come to lie on pixels, unturned; then by how much they are shifted.
bool isWholeShift(const Homography& placement, int width, int height, int& dx, int& dy)
{
    const auto near = [](double a, double b) { return std::abs(a - b) < 1e-9; };
    const Point origin = placement({0.0, 0.0});
    for (const Point& corner : {Point{0.0, 0.0}, Point{double(width), 0.0},
                                Point{double(width), double(height)}, Point{0.0, double(height)}}) {
        const Point at = placement(corner);
        if (!near(at.x, corner.x + origin.x) || !near(at.y, corner.y + origin.y)) return false;
    }
    dx = static_cast<int>(std::lround(origin.x));
    dy = static_cast<int>(std::lround(origin.y));
    return near(origin.x, dx) && near(origin.y, dy);
}

/// px of the picture for one px of the frame at a place, in the direction in which they are most.
double shrinkingAt(const Homography& back, double x, double y)
{
    const Point here = back({x, y});
    const Point right = back({x + 0.5, y});
    const Point down = back({x, y + 0.5});
    return 2.0 * std::max(std::hypot(right.x - here.x, right.y - here.y),
                          std::hypot(down.x - here.x, down.y - here.y));
}

struct Level
{
    std::array<cv::Mat, 4> planes;
    double scaleX = 1.0; ///< px of the level for one of the picture
    double scaleY = 1.0;
};

std::vector<Level> levelsOf(const RgbaImage& picture, int count)
{
    std::vector<Level> levels(1);
    for (int c = 0; c < 4; ++c)
        levels[0].planes[static_cast<std::size_t>(c)] = viewOf(picture.plane(c));
    for (int i = 1; i < count; ++i) {
        Level next;
        const cv::Size size = levels.back().planes[0].size();
        const cv::Size half((size.width + 1) / 2, (size.height + 1) / 2);
        if (half == size) break;
        for (std::size_t c = 0; c < 4; ++c)
            cv::resize(levels.back().planes[c], next.planes[c], half, 0, 0, cv::INTER_AREA);
        next.scaleX = static_cast<double>(half.width) / picture.width();
        next.scaleY = static_cast<double>(half.height) / picture.height();
        levels.push_back(std::move(next));
    }
    return levels;
}

/// One level, laid: OpenCV counts from the middle of the first pixel.
void warp(const Level& level, std::size_t channel, const Homography& back, const PixelBox& box, int how,
          cv::Mat& out)
{
    const Homography scaled({level.scaleX, 0, -0.5, 0, level.scaleY, -0.5, 0, 0, 1});
    const Homography whole = scaled.after(back).after(Homography::shift(box.minX + 0.5, box.minY + 0.5));
    cv::Matx33d matrix(whole.rows().data());
    cv::warpPerspective(level.planes[channel], out, matrix, {box.width(), box.height()},
                        how | cv::WARP_INVERSE_MAP, cv::BORDER_REPLICATE);
}

} // namespace

Laid laidInto(const RgbaImage& picture, const Homography& placement, const PixelBox& frame, const Run& run)
{
    Laid laid;
    if (picture.empty() || frame.empty()) return laid;
    const double width = picture.width();
    const double height = picture.height();
    int dx = 0;
    int dy = 0;
    if (isWholeShift(placement, picture.width(), picture.height(), dx, dy)) {
        laid.box = PixelBox::at(dx, dy, picture.width(), picture.height()).intersected(frame);
        if (!laid.box.empty())
            laid.colour = cut(picture, PixelBox::at(laid.box.minX - dx, laid.box.minY - dy, laid.box.width(),
                                                    laid.box.height()));
        return laid;
    }
    const auto back = placement.inverse();
    if (!back) return laid;
    std::vector<Point> outline;
    Point low{1e9, 1e9};
    Point high{-1e9, -1e9};
    for (const Point& corner : {Point{0, 0}, Point{width, 0}, Point{width, height}, Point{0, height}}) {
        outline.push_back(placement(corner));
        if (!std::isfinite(outline.back().x) || !std::isfinite(outline.back().y)) return laid;
        low = {std::min(low.x, outline.back().x), std::min(low.y, outline.back().y)};
        high = {std::max(high.x, outline.back().x), std::max(high.y, outline.back().y)};
    }
    const auto whole = [](double v) { return static_cast<int>(std::clamp(v, -1e6, 1e6)); };
    laid.box = PixelBox{whole(std::floor(low.x)), whole(std::floor(low.y)), whole(std::ceil(high.x)) - 1,
                        whole(std::ceil(high.y)) - 1}
                   .intersected(frame);
    if (laid.box.empty()) return laid;
    const PixelBox& box = laid.box;
    Plane<float> coverage(box.width(), box.height());
    regions::addPolygon(outline, box.minX, box.minY, coverage);

    // Log2 of how far it shrinks, on a grid: it changes slowly.
    Plane<float> shrinking(box.width(), box.height());
    std::vector<float> most(static_cast<std::size_t>(box.height()));
    parallelFor(box.height(), {run.threads, {}, run.stop}, [&](int y) {
        float& largest = most[static_cast<std::size_t>(y)];
        for (int x = 0; x < box.width(); ++x) {
            if (coverage.at(x, y) <= 0.0F) continue;
            const double by = shrinkingAt(*back, box.minX + x + 0.5, box.minY + y + 0.5);
            shrinking.at(x, y) = static_cast<float>(std::log2(std::clamp(by, 1.0, 65536.0)));
            largest = std::max(largest, shrinking.at(x, y));
        }
    });
    const float deepest = *std::max_element(most.begin(), most.end());
    const auto levels = levelsOf(picture, 1 + static_cast<int>(std::ceil(deepest)));
    const bool isEnlarged = deepest <= 0.0F;

    laid.colour = RgbaImage(box.width(), box.height());
    parallelFor(4, {run.threads, {}, run.stop}, [&](int c) {
        const auto channel = static_cast<std::size_t>(c);
        Plane<float>& out = laid.colour.plane(c);
        cv::Mat one;
        for (std::size_t i = 0; i < levels.size(); ++i) {
            warp(levels[i], channel, *back, box, isEnlarged ? cv::INTER_CUBIC : cv::INTER_LINEAR, one);
            for (int y = 0; y < box.height(); ++y) {
                const float* value = one.ptr<float>(y);
                const float* by = shrinking.row(y);
                const float* cover = coverage.row(y);
                float* row = out.row(y);
                for (int x = 0; x < box.width(); ++x) {
                    const float place = std::min(by[x], static_cast<float>(levels.size() - 1));
                    const float share = std::max(0.0F, 1.0F - std::abs(place - static_cast<float>(i)));
                    row[x] += share * cover[x] * value[x];
                }
            }
        }
        // A cubic goes a little beyond what it lies between.
        for (float& value : out.pixels())
            value = c == 3 ? std::clamp(value, 0.0F, 1.0F) : std::max(value, 0.0F);
    });
    return laid;
}

} // namespace retinex::layers
