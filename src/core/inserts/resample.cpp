#include "core/inserts/resample.h"

#include "core/image/crop.h"
#include "core/regions/outline_path.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <opencv2/imgproc.hpp>

namespace retinex::inserts {

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

/// Log2 of how far a picture shrinks at each place; it changes slowly, so that it is worked out on a grid.
class Shrinking
{
public:
    Shrinking(const Homography& back, const PixelBox& box, const Run& run)
        : m_values(box.width() / kStep + 2, box.height() / kStep + 2)
    {
        parallelFor(m_values.height(), {run.threads, {}, run.stop}, [&](int y) {
            for (int x = 0; x < m_values.width(); ++x) {
                const double px = std::min(box.minX + x * kStep, box.maxX) + 0.5;
                const double py = std::min(box.minY + y * kStep, box.maxY) + 0.5;
                m_values.at(x, y) =
                    static_cast<float>(std::log2(std::clamp(shrinkingAt(back, px, py), 1.0, 65536.0)));
            }
        });
        const auto [least, most] = std::ranges::minmax_element(m_values.pixels());
        m_least = *least;
        m_most = *most;
    }
    [[nodiscard]] float least() const noexcept { return m_least; }
    [[nodiscard]] float most() const noexcept { return m_most; }
    [[nodiscard]] float at(int x, int y) const noexcept
    {
        if (m_least == m_most) return m_most;
        const int bx = x / kStep;
        const int by = y / kStep;
        const float u = static_cast<float>(x % kStep) / kStep;
        const float v = static_cast<float>(y % kStep) / kStep;
        const float top = m_values.at(bx, by) + u * (m_values.at(bx + 1, by) - m_values.at(bx, by));
        const float bottom =
            m_values.at(bx, by + 1) + u * (m_values.at(bx + 1, by + 1) - m_values.at(bx, by + 1));
        return top + v * (bottom - top);
    }

private:
    static constexpr int kStep = 16;
    Plane<float> m_values;
    float m_least = 0.0F;
    float m_most = 0.0F;
};

struct Level
{
    cv::Mat pixels;      ///< R, G, B, A beside each other
    double scaleX = 1.0; ///< px of the level for one of the picture
    double scaleY = 1.0;
};

std::vector<Level> levelsOf(const RgbaImage& picture, int count)
{
    std::vector<Level> levels(1);
    std::vector<cv::Mat> planes;
    for (int c = 0; c < 4; ++c)
        planes.push_back(viewOf(picture.plane(c)));
    cv::merge(planes, levels[0].pixels);
    for (int i = 1; i < count; ++i) {
        Level next;
        const cv::Size size = levels.back().pixels.size();
        const cv::Size half((size.width + 1) / 2, (size.height + 1) / 2);
        if (half == size) break;
        cv::resize(levels.back().pixels, next.pixels, half, 0, 0, cv::INTER_AREA);
        next.scaleX = static_cast<double>(half.width) / picture.width();
        next.scaleY = static_cast<double>(half.height) / picture.height();
        levels.push_back(std::move(next));
    }
    return levels;
}

/// One level, laid: OpenCV counts from the middle of the first pixel.
void warp(const Level& level, const Homography& back, const PixelBox& box, int how, cv::Mat& out)
{
    const Homography scaled({level.scaleX, 0, -0.5, 0, level.scaleY, -0.5, 0, 0, 1});
    const Homography whole = scaled.after(back).after(Homography::shift(box.minX + 0.5, box.minY + 0.5));
    const cv::Matx33d matrix(whole.rows().data());
    cv::warpPerspective(level.pixels, out, matrix, {box.width(), box.height()}, how | cv::WARP_INVERSE_MAP,
                        cv::BORDER_REPLICATE);
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
            laid.colour = cropped(picture, PixelBox::at(laid.box.minX - dx, laid.box.minY - dy,
                                                        laid.box.width(), laid.box.height()));
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

    const Shrinking shrinking(*back, box, run);
    const auto levels = levelsOf(picture, 1 + static_cast<int>(std::ceil(shrinking.most())));
    const bool isEnlarged = shrinking.most() <= 0.0F;
    const auto firstLevel = static_cast<std::size_t>(std::floor(shrinking.least()));

    laid.colour = RgbaImage(box.width(), box.height());
    cv::Mat one;
    for (std::size_t i = std::min(firstLevel, levels.size() - 1); i < levels.size(); ++i) {
        warp(levels[i], *back, box, isEnlarged ? cv::INTER_CUBIC : cv::INTER_LINEAR, one);
        parallelFor(box.height(), {run.threads, {}, run.stop}, [&](int y) {
            const float* value = one.ptr<float>(y);
            const float* cover = coverage.row(y);
            for (int x = 0; x < box.width(); ++x, value += 4) {
                if (cover[x] <= 0.0F) continue;
                const float place = std::min(shrinking.at(x, y), static_cast<float>(levels.size() - 1));
                const float share = cover[x] * std::max(0.0F, 1.0F - std::abs(place - static_cast<float>(i)));
                // A cubic goes a little beyond what it lies between.
                for (int c = 0; c < 4; ++c) {
                    const float most = c == 3 ? 1.0F : std::numeric_limits<float>::max();
                    laid.colour.plane(c).at(x, y) += share * std::clamp(value[c], 0.0F, most);
                }
            }
        });
    }
    return laid;
}

} // namespace retinex::inserts
