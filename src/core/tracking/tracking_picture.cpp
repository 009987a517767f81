#include "core/tracking/tracking_picture.h"

#include "core/passes/frames/luminance.h"
#include "core/tracking/cv_picture.h"

#include <algorithm>
#include <cmath>
#include <opencv2/video/tracking.hpp>

namespace retinex::tracking {

Plane<float> trackingPicture(const RgbaImage& colour, const Run& run)
{
    Plane<float> picture = passes::luminanceOf(colour.plane(0), colour.plane(1), colour.plane(2));
    parallelFor(picture.height(), {run.threads, {}, run.stop}, [&](int y) {
        for (int x = 0; x < picture.width(); ++x) {
            const float light = std::max(0.F, picture.at(x, y));
            picture.at(x, y) = std::pow(light / (1.F + light), 1.F / 2.2F);
        }
    });
    return picture;
}

cv::Mat toMat(const Plane<float>& picture)
{
    cv::Mat mat(picture.height(), picture.width(), CV_8U);
    for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x)
            mat.at<std::uint8_t>(y, x) = cv::saturate_cast<std::uint8_t>(255.0F * picture.at(x, y));
    return mat;
}

Followed follow(const cv::Mat& picture, const cv::Mat& other, const std::vector<cv::Point2f>& points,
                int levels, double comesBack)
{
    Followed followed;
    if (points.empty()) return followed;
    std::vector<cv::Point2f> found;
    std::vector<cv::Point2f> back;
    std::vector<std::uint8_t> forward;
    std::vector<std::uint8_t> backward;
    const cv::Size window(kFollowWindow, kFollowWindow);
    cv::calcOpticalFlowPyrLK(picture, other, points, found, forward, cv::noArray(), window, levels);
    cv::calcOpticalFlowPyrLK(other, picture, found, back, backward, cv::noArray(), window, levels);
    for (std::size_t i = 0; i < points.size(); ++i) {
        const cv::Point2f off = back[i] - points[i];
        if (!forward[i] || !backward[i] || std::hypot(off.x, off.y) > comesBack) continue;
        followed.from.push_back(points[i]);
        followed.to.push_back(found[i]);
    }
    return followed;
}

} // namespace retinex::tracking
