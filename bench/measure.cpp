#include "bench/measure.h"
#include "bench/toned.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

namespace retinex::bench {

cv::Mat toned(const Plane<float>& plane)
{
    cv::Mat mat(plane.height(), plane.width(), CV_32F);
    for (int y = 0; y < plane.height(); ++y) {
        for (int x = 0; x < plane.width(); ++x) {
            const float v = std::max(plane.at(x, y), 0.0F);
            mat.at<float>(y, x) = std::pow(v / (1.0F + v), 1.0F / 2.2F);
        }
    }
    return mat;
}

namespace {

cv::Mat blurred(const cv::Mat& mat)
{
    cv::Mat out;
    cv::GaussianBlur(mat, out, cv::Size(11, 11), 1.5, 1.5, cv::BORDER_REFLECT);
    return out;
}

double ssim(const cv::Mat& a, const cv::Mat& b)
{
    constexpr double c1 = 0.01 * 0.01;
    constexpr double c2 = 0.03 * 0.03;
    const cv::Mat meanA = blurred(a);
    const cv::Mat meanB = blurred(b);
    const cv::Mat varA = blurred(a.mul(a)) - meanA.mul(meanA);
    const cv::Mat varB = blurred(b.mul(b)) - meanB.mul(meanB);
    const cv::Mat cov = blurred(a.mul(b)) - meanA.mul(meanB);
    const cv::Mat top = (2.0 * meanA.mul(meanB) + c1).mul(2.0 * cov + c2);
    const cv::Mat bottom = (meanA.mul(meanA) + meanB.mul(meanB) + c1).mul(varA + varB + c2);
    cv::Mat ratio;
    cv::divide(top, bottom, ratio);
    return cv::mean(ratio)[0];
}

/// Sobel over 3 x 3, divided by 8: the length of the slope, of the largest channel.
cv::Mat slopes(const RgbaImage& picture)
{
    cv::Mat largest;
    for (int c = 0; c < 3; ++c) {
        const cv::Mat values = toned(picture.plane(c));
        cv::Mat dx;
        cv::Mat dy;
        cv::Mat length;
        cv::Sobel(values, dx, CV_32F, 1, 0, 3, 0.125);
        cv::Sobel(values, dy, CV_32F, 0, 1, 3, 0.125);
        cv::magnitude(dx, dy, length);
        largest = c == 0 ? length : cv::Mat(cv::max(largest, length));
    }
    return largest;
}

double psnr(double squares, double count)
{
    return count > 0.0 ? -10.0 * std::log10(squares / count + 1e-12) : 0.0;
}

bool isEdge(float a, float b)
{
    if (std::isfinite(a) != std::isfinite(b)) return true;
    return std::isfinite(a) && std::abs(a - b) > 0.05F * std::min(a, b);
}

} // namespace

Plane<float> edgeBand(const Plane<float>& distance, int reachPx)
{
    cv::Mat edges = cv::Mat::zeros(distance.height(), distance.width(), CV_8U);
    for (int y = 0; y + 1 < distance.height(); ++y)
        for (int x = 0; x + 1 < distance.width(); ++x)
            if (isEdge(distance.at(x, y), distance.at(x + 1, y)) ||
                isEdge(distance.at(x, y), distance.at(x, y + 1)))
                edges.at<std::uint8_t>(y, x) = 1;
    cv::Mat grown;
    cv::dilate(edges, grown, cv::Mat::ones(2 * reachPx + 1, 2 * reachPx + 1, CV_8U));
    Plane<float> band(distance.width(), distance.height());
    for (int y = 0; y < distance.height(); ++y)
        for (int x = 0; x < distance.width(); ++x)
            band.at(x, y) = grown.at<std::uint8_t>(y, x) ? 1.0F : 0.0F;
    return band;
}

Plane<float> falseDetail(const RgbaImage& picture, const RgbaImage& truth)
{
    cv::Mat allowed;
    cv::dilate(slopes(truth), allowed, cv::Mat::ones(5, 5, CV_8U));
    const cv::Mat beyond = cv::max(slopes(picture) - 1.1 * allowed - 0.004, 0.0);
    Plane<float> result(picture.width(), picture.height());
    for (int y = 0; y < beyond.rows; ++y)
        std::copy_n(beyond.ptr<float>(y), beyond.cols, result.row(y));
    return result;
}

Plane<float> behindRims(const Plane<float>& radiusPx)
{
    constexpr float kSmall = 6.0F; // px: too little is seen through less
    cv::Mat front(radiusPx.height(), radiusPx.width(), CV_8U);
    for (int y = 0; y < front.rows; ++y)
        for (int x = 0; x < front.cols; ++x)
            front.at<std::uint8_t>(y, x) = radiusPx.at(x, y) < -kSmall ? 1 : 0;
    cv::Mat inside;
    cv::distanceTransform(front, inside, cv::DIST_L2, cv::DIST_MASK_5);
    Plane<float> where(radiusPx.width(), radiusPx.height());
    for (int y = 0; y < front.rows; ++y)
        for (int x = 0; x < front.cols; ++x) {
            const float away = inside.at<float>(y, x) / std::max(kSmall, -radiusPx.at(x, y));
            where.at(x, y) = away > 1.0F / 3.0F && away < 1.0F ? 1.0F : 0.0F;
        }
    return where;
}

double grainOf(const RgbaImage& picture, const Plane<float>& where)
{
    constexpr int step = 4;
    double sum = 0.0;
    double count = 0.0;
    for (int c = 0; c < 3; ++c) {
        cv::Mat mean;
        cv::blur(toned(picture.plane(c)), mean, cv::Size(3, 3));
        const auto at = [&](int x, int y) { return static_cast<double>(mean.at<float>(y, x)); };
        for (int y = step; y + step < mean.rows; ++y)
            for (int x = step; x + step < mean.cols; ++x) {
                if (where.at(x, y) == 0.0F) continue;
                sum += std::abs(at(x - step, y) - 2.0 * at(x, y) + at(x + step, y)) +
                       std::abs(at(x, y - step) - 2.0 * at(x, y) + at(x, y + step));
                count += 2.0;
            }
    }
    return count > 0.0 ? sum / count : 0.0;
}

Quality compare(const RgbaImage& picture, const RgbaImage& truth, const Plane<float>& band)
{
    double squares = 0.0;
    double edgeSquares = 0.0;
    double edgeCount = 0.0;
    Quality quality;
    for (int c = 0; c < 3; ++c) {
        const cv::Mat a = toned(picture.plane(c));
        const cv::Mat b = toned(truth.plane(c));
        quality.ssim += ssim(a, b) / 3.0;
        for (int y = 0; y < a.rows; ++y) {
            for (int x = 0; x < a.cols; ++x) {
                const double d =
                    static_cast<double>(a.at<float>(y, x)) - static_cast<double>(b.at<float>(y, x));
                squares += d * d;
                if (band.at(x, y) > 0.0F) {
                    edgeSquares += d * d;
                    edgeCount += 1.0;
                }
            }
        }
    }
    quality.psnr = psnr(squares, 3.0 * static_cast<double>(band.size()));
    quality.psnrEdge = psnr(edgeSquares, edgeCount);
    const Plane<float> beyond = falseDetail(picture, truth);
    double pixels = 0.0;
    for (std::size_t i = 0; i < beyond.size(); ++i) {
        if (band.pixels()[i] == 0.0F) continue;
        pixels += 1.0;
        quality.falseDetail += static_cast<double>(beyond.pixels()[i]);
        if (beyond.pixels()[i] > 0.02F) quality.falseShare += 1.0;
    }
    if (pixels > 0.0) {
        quality.falseDetail /= pixels;
        quality.falseShare /= pixels;
    }
    return quality;
}

double changeDifference(const RgbaImage& a, const RgbaImage& b, const RgbaImage* c, const RgbaImage* d)
{
    double sum = 0.0;
    for (int plane = 0; plane < 3; ++plane) {
        cv::Mat change = toned(b.plane(plane)) - toned(a.plane(plane));
        if (c) change -= toned(d->plane(plane)) - toned(c->plane(plane));
        sum += cv::norm(change, cv::NORM_L2SQR);
    }
    return std::sqrt(sum / (3.0 * static_cast<double>(a.plane(0).size())));
}

} // namespace retinex::bench
