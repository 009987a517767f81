#include "core/defocus/hidden/front_opening.h"

#include <algorithm>
#include <opencv2/imgproc.hpp>

namespace retinex::defocus {

namespace {

constexpr float kFilled = 0.99F;  ///< what is missing is rounding
constexpr float kOutline = 1.0F;  ///< px: an outline lies up to so far from the open pixel's middle
constexpr float kLongest = 1.02F; ///< distances along 5 x 5 steps are short by two per cent at most
/// px: below it discs hardly reach from pixel to pixel.
constexpr float kSmall = 2.0F;
/// Side of the blocks that the largest radius is known of, px: parts of a picture begin at multiples of it.
constexpr int kBlock = 32;

/// The largest of each block and of those around it.
Plane<float> largestAround(Plane<float>& blocks)
{
    Plane<float> result(blocks.width(), blocks.height());
    const cv::Mat from(blocks.height(), blocks.width(), CV_32F, blocks.row(0));
    cv::Mat to(blocks.height(), blocks.width(), CV_32F, result.row(0));
    cv::dilate(from, to, cv::Mat());
    return result;
}

} // namespace

FrontOpening::FrontOpening(const SurfaceLayer& visible, const Run& run)
{
    const int width = visible.coverage.width();
    const int height = visible.coverage.height();
    const Run quiet{run.threads, {}, run.stop};
    Plane<std::uint8_t> closed(width, height);
    Plane<float> blocks((width + kBlock - 1) / kBlock, (height + kBlock - 1) / kBlock, kSmall);
    parallelFor(blocks.height(), quiet, [&](int by) {
        for (int y = by * kBlock; y < std::min(height, (by + 1) * kBlock); ++y) {
            const float* radius = visible.radiusPx.row(y);
            const float* coverage = visible.coverage.row(y);
            std::uint8_t* isClosed = closed.row(y);
            for (int bx = 0; bx < blocks.width(); ++bx) {
                float most = blocks.at(bx, by);
                for (int x = bx * kBlock; x < std::min(width, (bx + 1) * kBlock); ++x) {
                    most = std::max(most, -radius[x]);
                    isClosed[x] = radius[x] < 0.0F && coverage[x] >= kFilled ? 1 : 0;
                }
                blocks.at(bx, by) = most;
            }
        }
    });
    if (*std::ranges::max_element(blocks.pixels()) <= kSmall) return;
    // An outline may lie nearer to the lens than the pixel and be blurred more.
    const Plane<float> reach = largestAround(blocks);
    m_share = Plane<float>(width, height);
    const cv::Mat from(height, width, CV_8U, closed.row(0));
    cv::Mat distance(height, width, CV_32F, m_share.row(0));
    cv::distanceTransform(from, distance, cv::DIST_L2, cv::DIST_MASK_5);
    parallelFor(height, quiet, [&](int y) {
        float* share = m_share.row(y);
        for (int x = 0; x < width; ++x) {
            const float away = std::max(0.0F, share[x] * kLongest - kOutline);
            const float part = away / reach.at(x / kBlock, y / kBlock);
            share[x] = std::max(0.0F, 1.0F - part * part);
        }
    });
}

} // namespace retinex::defocus
