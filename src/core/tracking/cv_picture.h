#pragma once

#include "core/image/image.h"

#include <opencv2/core.hpp>
#include <vector>

/// For files of the core that call OpenCV; no public header includes it.
namespace retinex::tracking {

/// 8 bit, as OpenCV follows points in it.
[[nodiscard]] cv::Mat toMat(const Plane<float>& picture);

/// Places have pixel centres at + 0.5, OpenCV's pictures at whole numbers.
[[nodiscard]] inline cv::Point2f toCv(double x, double y)
{
    return {static_cast<float>(x - 0.5), static_cast<float>(y - 0.5)};
}

/// Where points of one picture are in another, by the pyramidal method of Lucas and Kanade (Bouguet 2000)
/// with `levels` halvings; those only that come back to within `comesBack` px when followed the other way.
struct Followed
{
    std::vector<cv::Point2f> from;
    std::vector<cv::Point2f> to;
};
[[nodiscard]] Followed follow(const cv::Mat& picture, const cv::Mat& other,
                              const std::vector<cv::Point2f>& points, int levels, double comesBack);

/// px around a point that it is followed by.
inline constexpr int kFollowWindow = 15;

} // namespace retinex::tracking
