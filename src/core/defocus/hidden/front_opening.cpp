#include "core/defocus/hidden/front_opening.h"

#include "core/defocus/surfaces/pixel_colour.h"

#include <algorithm>
#include <opencv2/imgproc.hpp>

namespace retinex::defocus {

namespace {

constexpr float kFilled = 0.99F; ///< what is missing is rounding
constexpr float kOutline = 1.0F; ///< px: an outline lies up to so far from the open pixel's middle
/// px: below it discs hardly reach from pixel to pixel.
constexpr float kSmall = 2.0F;

/// In front of the focal plane, and nothing else in the pixel.
bool isClosed(const SurfaceLayer& visible, int x, int y)
{
    return visible.radiusPx.at(x, y) < 0.0F && visible.coverage.at(x, y) >= kFilled;
}

/// The largest radius, px, of the closed pixels beside each open one, by its number.
std::vector<float> outlineRadii(const SurfaceLayer& visible, const Plane<std::uint8_t>& closed,
                                const cv::Mat& numbers)
{
    double most = 0.0;
    cv::minMaxLoc(numbers, nullptr, &most);
    std::vector<float> radii(static_cast<std::size_t>(most) + 1);
    for (int y = 0; y < closed.height(); ++y)
        for (int x = 0; x < closed.width(); ++x) {
            if (closed.at(x, y) != 0) continue;
            float& radius = radii[static_cast<std::size_t>(numbers.at<int>(y, x))];
            around(closed, x, y, 1, [&](int nx, int ny) {
                if (closed.at(nx, ny) != 0) radius = std::max(radius, -visible.radiusPx.at(nx, ny));
            });
        }
    return radii;
}

} // namespace

FrontOpening::FrontOpening(const SurfaceLayer& visible, const Run& run)
{
    const int width = visible.coverage.width();
    const int height = visible.coverage.height();
    const Run quiet{run.threads, {}, run.stop};
    Plane<std::uint8_t> closed(width, height);
    std::vector<char> any(static_cast<std::size_t>(height));
    parallelFor(height, quiet, [&](int y) {
        for (int x = 0; x < width; ++x) {
            closed.at(x, y) = isClosed(visible, x, y) ? 1 : 0;
            if (visible.radiusPx.at(x, y) < -kSmall) any[static_cast<std::size_t>(y)] = 1;
        }
    });
    if (std::ranges::find(any, 1) == any.end()) return;
    m_share = Plane<float>(width, height);
    const cv::Mat from(height, width, CV_8U, closed.row(0));
    cv::Mat distance(height, width, CV_32F, m_share.row(0));
    cv::Mat nearest; // the open pixel nearest to each, by its number
    cv::distanceTransform(from, distance, nearest, cv::DIST_L2, cv::DIST_MASK_5, cv::DIST_LABEL_PIXEL);
    const std::vector<float> outline = outlineRadii(visible, closed, nearest);
    parallelFor(height, quiet, [&](int y) {
        float* share = m_share.row(y);
        const int* number = nearest.ptr<int>(y);
        for (int x = 0; x < width; ++x) {
            if (closed.at(x, y) == 0) {
                share[x] = 1.0F;
                continue;
            }
            // An outline may lie nearer to the lens than the pixel and be blurred more.
            const float reach =
                std::max({kSmall, -visible.radiusPx.at(x, y), outline[static_cast<std::size_t>(number[x])]});
            const float part = std::max(0.0F, share[x] - kOutline) / reach;
            share[x] = std::max(0.0F, 1.0F - part * part);
        }
    });
}

} // namespace retinex::defocus
