#include "bench/probe.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <opencv2/imgproc.hpp>

namespace retinex::bench {

namespace {

constexpr int kPlanes = RgbaImage::channels + 1; // the last is coverage
using Planes = std::vector<cv::Mat>;

Planes emptyPlanes(int height, int width)
{
    Planes planes(kPlanes);
    for (auto& plane : planes)
        plane = cv::Mat::zeros(height, width, CV_32F);
    return planes;
}

/// Number of the slice, negative in front, and its radius.
int sliceOf(float radius)
{
    const float size = std::abs(radius);
    const int slice = size < 12.0F
                          ? static_cast<int>(std::lround(size))
                          : 12 + static_cast<int>(std::lround(std::log(size / 12.0F) / std::log(1.08F)));
    return radius < 0.0F ? -slice : slice;
}

double radiusOf(int slice)
{
    const int size = std::abs(slice);
    return size <= 12 ? size : 12.0 * std::pow(1.08, size - 12);
}

/// The outline filled by OpenCV at 16 times the size and averaged.
cv::Mat disc(const optics::Iris& iris, double radius, bool front)
{
    constexpr int fine = 16;
    const int reach = static_cast<int>(std::ceil(radius * optics::irisReach(iris))) + 1;
    const int size = 2 * reach + 1;
    if (radius < 0.5) return cv::Mat::ones(1, 1, CV_32F);
    cv::Mat large = cv::Mat::zeros(size * fine, size * fine, CV_8U);
    std::vector<cv::Point> corners;
    for (const auto& p : optics::irisOutline(iris, front))
        corners.emplace_back(static_cast<int>(std::lround((p.x * radius + 0.5 * size) * fine - 0.5)),
                             static_cast<int>(std::lround((p.y * radius + 0.5 * size) * fine - 0.5)));
    cv::fillPoly(large, std::vector<std::vector<cv::Point>>{corners}, cv::Scalar(255));
    cv::Mat small;
    cv::resize(large, small, cv::Size(size, size), 0, 0, cv::INTER_AREA);
    small.convertTo(small, CV_32F);
    small /= cv::sum(small)[0];
    cv::flip(small, large, -1); // filter2D correlates; spreading light is a convolution
    return large;
}

cv::Mat spread(const cv::Mat& plane, const cv::Mat& kernel)
{
    cv::Mat out;
    cv::filter2D(plane, out, CV_32F, kernel, cv::Point(-1, -1), 0.0, cv::BORDER_CONSTANT);
    return out;
}

/// A slice adds min(its coverage, what is left).
void addWithinBudget(Planes& group, const Planes& slice)
{
    const cv::Mat left = 1.0 - group[kPlanes - 1];
    const cv::Mat taken = cv::min(slice[kPlanes - 1], left);
    cv::Mat share;
    cv::divide(taken, cv::max(slice[kPlanes - 1], 1e-6), share);
    for (std::size_t c = 0; c < kPlanes; ++c)
        group[c] += share.mul(slice[c]);
}

/// Divides by coverage; holes come from half the size, again and again.
void fill(Planes& group)
{
    if (group[0].rows > 1 || group[0].cols > 1) {
        Planes coarse(kPlanes);
        const cv::Size half((group[0].cols + 1) / 2, (group[0].rows + 1) / 2);
        for (std::size_t c = 0; c < kPlanes; ++c)
            cv::resize(group[c], coarse[c], half, 0, 0, cv::INTER_AREA);
        const cv::Mat most = cv::max(4.0 * coarse[kPlanes - 1], 1.0); // a well covered area counts once
        for (auto& plane : coarse)
            cv::divide(4.0 * plane, most, plane);
        fill(coarse);
        const cv::Mat missing = 1.0 - group[kPlanes - 1];
        for (std::size_t c = 0; c < kPlanes; ++c) {
            cv::Mat fine;
            cv::resize(coarse[c], fine, group[c].size(), 0, 0, cv::INTER_LINEAR);
            group[c] += missing.mul(fine);
        }
    }
    const cv::Mat covered = cv::max(group[kPlanes - 1], 1e-6);
    for (auto& plane : group)
        cv::divide(plane, covered, plane);
}

} // namespace

RgbaImage probe(const RgbaImage& colour, const Plane<float>& radiusPx, const optics::Iris& iris)
{
    const int width = colour.width();
    const int height = colour.height();
    std::map<int, Planes> slices; // front to back
    for (int y = 0; y < height; ++y) {
        for (int x = 0; x < width; ++x) {
            auto& slice = slices[sliceOf(radiusPx.at(x, y))];
            if (slice.empty()) slice = emptyPlanes(height, width);
            for (int c = 0; c < RgbaImage::channels; ++c)
                slice[static_cast<std::size_t>(c)].at<float>(y, x) = colour.plane(c).at(x, y);
            slice[kPlanes - 1].at<float>(y, x) = 1.0F;
        }
    }
    Planes front = emptyPlanes(height, width);
    Planes back = emptyPlanes(height, width);
    const cv::Mat ones = cv::Mat::ones(height, width, CV_32F);
    for (auto& [number, slice] : slices) {
        const cv::Mat kernel = disc(iris, radiusOf(number), number < 0);
        const cv::Mat inside = spread(ones, kernel); // what is beyond the frame is alike
        for (auto& plane : slice)
            cv::divide(spread(plane, kernel), inside, plane);
        addWithinBudget(number < 0 ? front : back, slice);
        slice.clear();
    }
    fill(back);
    RgbaImage out(width, height);
    for (int c = 0; c < RgbaImage::channels; ++c)
        for (int y = 0; y < height; ++y)
            for (int x = 0; x < width; ++x)
                out.plane(c).at(x, y) = front[static_cast<std::size_t>(c)].at<float>(y, x) +
                                        (1.0F - front[kPlanes - 1].at<float>(y, x)) *
                                            back[static_cast<std::size_t>(c)].at<float>(y, x);
    return out;
}

} // namespace retinex::bench
