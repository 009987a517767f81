#include "core/views/tracked_points.h"

#include "core/tracking/cv_picture.h"
#include "core/tracking/tracking_picture.h"
#include "core/views/one_surface.h"

#include <algorithm>
#include <opencv2/imgproc.hpp>
#include <opencv2/video/tracking.hpp>

namespace retinex::views {

namespace {

constexpr int kWindow = 15;        ///< px that a point is followed by
constexpr float kComesBack = 0.2F; ///< px that a point followed there and back may be off

/// Whether all within half a window is of one surface: what lies on another moves otherwise.
bool isAlone(const Plane<float>& distance, int x, int y)
{
    constexpr int reach = kWindow / 2;
    const float own = distance.at(x, y);
    if (!std::isfinite(own)) return false;
    for (int ny = std::max(0, y - reach); ny <= std::min(distance.height() - 1, y + reach); ++ny)
        for (int nx = std::max(0, x - reach); nx <= std::min(distance.width() - 1, x + reach); ++nx)
            if (!(std::abs(distance.at(nx, ny) - own) <= 2.0F * kOneSurface * own)) return false;
    return true;
}

} // namespace

std::vector<Match> trackedPoints(const RgbaImage& from, const Plane<float>& distance, const RgbaImage& to,
                                 const Run& run)
{
    constexpr int mostCorners = 2000;
    constexpr std::size_t mostPoints = 600;
    const cv::Mat here = tracking::toMat(tracking::trackingPicture(from, run));
    const cv::Mat there = tracking::toMat(tracking::trackingPicture(to, run));
    std::vector<cv::Point2f> corners;
    const double apart = std::max(4.0, from.width() / 120.0);
    cv::goodFeaturesToTrack(here, corners, mostCorners, 0.003, apart);
    std::vector<cv::Point2f> points;
    for (const cv::Point2f& corner : corners) // best first
        if (points.size() < mostPoints && isAlone(distance, cvRound(corner.x), cvRound(corner.y)))
            points.push_back(corner);
    if (points.empty()) return {};
    std::vector<cv::Point2f> found;
    std::vector<cv::Point2f> back;
    std::vector<std::uint8_t> forward;
    std::vector<std::uint8_t> backward;
    const cv::Size window(kWindow, kWindow);
    cv::calcOpticalFlowPyrLK(here, there, points, found, forward, cv::noArray(), window, 4);
    cv::calcOpticalFlowPyrLK(there, here, found, back, backward, cv::noArray(), window, 4);
    std::vector<Match> matches;
    for (std::size_t i = 0; i < points.size(); ++i) {
        const cv::Point2f off = back[i] - points[i];
        if (!forward[i] || !backward[i] || std::hypot(off.x, off.y) > kComesBack) continue;
        matches.push_back({points[i].x + 0.5, points[i].y + 0.5,
                           distance.at(cvRound(points[i].x), cvRound(points[i].y)), found[i].x + 0.5,
                           found[i].y + 0.5});
    }
    return matches;
}

} // namespace retinex::views
