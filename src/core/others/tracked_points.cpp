#include "core/others/tracked_points.h"

#include "core/others/one_surface.h"
#include "core/tracking/cv_picture.h"
#include "core/tracking/tracking_picture.h"

#include <algorithm>
#include <opencv2/imgproc.hpp>

namespace retinex::others {

namespace {

constexpr double kComesBack = 0.2; ///< px that a point followed there and back may be off

/// Whether all within half a window is of one surface: what lies on another moves otherwise.
bool isAlone(const Plane<float>& distance, int x, int y)
{
    constexpr int reach = tracking::kFollowWindow / 2;
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
    const tracking::Followed followed = tracking::follow(here, there, points, 4, kComesBack);
    std::vector<Match> matches;
    for (std::size_t i = 0; i < followed.from.size(); ++i) {
        const cv::Point2f at = followed.from[i];
        matches.push_back({at.x + 0.5, at.y + 0.5, distance.at(cvRound(at.x), cvRound(at.y)),
                           followed.to[i].x + 0.5, followed.to[i].y + 0.5});
    }
    return matches;
}

} // namespace retinex::others
