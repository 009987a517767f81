#pragma once

#include "core/base/image.h"

#include <opencv2/core.hpp>

/// For files of the core that call OpenCV; no public header includes it.
namespace retinex::tracking {

/// 8 bit, as OpenCV follows points in it.
[[nodiscard]] cv::Mat toMat(const Plane<float>& picture);

/// Places have pixel centres at + 0.5, OpenCV's pictures at whole numbers.
[[nodiscard]] inline cv::Point2f toCv(double x, double y)
{
    return {static_cast<float>(x - 0.5), static_cast<float>(y - 0.5)};
}

} // namespace retinex::tracking
