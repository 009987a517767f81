#include "bench/peers.h"

#include "core/defocus/lens/iris_kernel.h"
#include "core/defocus/slices/slice_grid.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

namespace retinex::bench {

namespace {

cv::Mat kernelImage(const defocus::IrisKernel& kernel)
{
    const int rx = kernel.reachX() + 1;
    const int ry = kernel.reachY();
    cv::Mat image = cv::Mat::zeros(2 * ry + 1, 2 * rx + 1, CV_32F);
    for (const auto& row : kernel.rows()) {
        for (int x = -rx; x <= rx; ++x) {
            const double covered = std::min(row.hi, x + 0.5) - std::max(row.lo, x - 0.5);
            if (covered > 0.0)
                image.at<float>(row.dy + ry, x + rx) = static_cast<float>(covered * row.weight);
        }
    }
    cv::Mat flipped; // filter2D correlates; spreading light is a convolution
    cv::flip(image, flipped, -1);
    return flipped;
}

} // namespace

RgbaImage gather(const RgbaImage& colour, const Plane<float>& radiusPx, const Run& run)
{
    RgbaImage out(colour.width(), colour.height());
    parallelFor(colour.height(), run, [&](int y) {
        for (int x = 0; x < colour.width(); ++x) {
            const float radius = std::abs(radiusPx.at(x, y));
            const int reach = static_cast<int>(std::ceil(radius));
            float sum[RgbaImage::channels] = {};
            float weight = 0.0F;
            for (int dy = -reach; dy <= reach; ++dy) {
                for (int dx = -reach; dx <= reach; ++dx) {
                    if (!colour.plane(0).contains(x + dx, y + dy)) continue;
                    // One pixel of softness at the rim.
                    const float away = std::sqrt(static_cast<float>(dx * dx + dy * dy));
                    const float share = std::clamp(radius + 0.5F - away, 0.0F, 1.0F);
                    weight += share;
                    for (int c = 0; c < RgbaImage::channels; ++c)
                        sum[c] += share * colour.plane(c).at(x + dx, y + dy);
                }
            }
            for (int c = 0; c < RgbaImage::channels; ++c)
                out.plane(c).at(x, y) = sum[c] / weight;
        }
    });
    return out;
}

RgbaImage slicesByFft(const RgbaImage& colour, const Plane<float>& radiusPx, const optics::Iris& iris)
{
    const int width = colour.width();
    const int height = colour.height();
    const auto [low, high] = std::minmax_element(radiusPx.pixels().begin(), radiusPx.pixels().end());
    // Finer than the engine's: with each pixel on one slice alone, coarser ones cost it up to 1 dB.
    constexpr double growth = 1.08;
    const defocus::SliceGrid grid(std::max(0.0F, -*low), std::max(0.0F, *high), growth);
    constexpr int planes = RgbaImage::channels + 1; // the last is coverage
    std::vector<cv::Mat> sum(planes);
    for (auto& mat : sum)
        mat = cv::Mat::zeros(height, width, CV_32F);
    for (int slice = grid.count() - 1; slice >= 0; --slice) { // back to front
        std::vector<cv::Mat> layer(planes);
        for (auto& mat : layer)
            mat = cv::Mat::zeros(height, width, CV_32F);
        bool any = false;
        for (int y = 0; y < height; ++y) {
            for (int x = 0; x < width; ++x) {
                const auto place = grid.place(radiusPx.at(x, y));
                const int nearest = place.behind >= 0.5F ? place.slice + 1 : place.slice;
                if (nearest != slice) continue;
                any = true;
                for (int c = 0; c < RgbaImage::channels; ++c)
                    layer[static_cast<std::size_t>(c)].at<float>(y, x) = colour.plane(c).at(x, y);
                layer[planes - 1].at<float>(y, x) = 1.0F;
            }
        }
        if (!any) continue;
        const cv::Mat kernel = kernelImage(defocus::IrisKernel(iris, {grid.radius(slice)}));
        for (auto& mat : layer)
            cv::filter2D(mat.clone(), mat, CV_32F, kernel, cv::Point(-1, -1), 0.0, cv::BORDER_REPLICATE);
        const cv::Mat open = 1.0 - layer[planes - 1];
        for (std::size_t c = 0; c < planes; ++c)
            sum[c] = layer[c] + open.mul(sum[c]);
    }
    RgbaImage out(width, height);
    for (int c = 0; c < RgbaImage::channels; ++c)
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x)
                out.plane(c).at(x, y) = sum[static_cast<std::size_t>(c)].at<float>(y, x) /
                                        std::max(sum[planes - 1].at<float>(y, x), 1e-3F);
    return out;
}

} // namespace retinex::bench
