#include "core/others/solve_camera.h"

#include <cmath>
#include <numbers>
#include <opencv2/calib3d.hpp>
#include <vector>

namespace retinex::others {

namespace {

constexpr std::size_t kFewestMatches = 24; ///< matches
constexpr float kNear = 1.0F;              ///< px that a match may be off and still agree

/// OpenCV's cameras have y down.
Imath::M44d toStep(const cv::Mat& turn, const cv::Mat& shift)
{
    const auto sign = [](int axis) { return axis == 1 ? -1.0 : 1.0; };
    Imath::M44d step;
    for (int row = 0; row < 3; ++row) {
        for (int column = 0; column < 3; ++column)
            step[row][column] = sign(row) * sign(column) * turn.at<double>(column, row);
        step[3][row] = sign(row) * shift.at<double>(row);
    }
    return step;
}

} // namespace

std::optional<CameraStep> solveCamera(std::span<const Match> matches, int width, int height,
                                      double fieldOfViewDeg, double pixelAspect)
{
    if (matches.size() < kFewestMatches || !(fieldOfViewDeg > 0.0)) return std::nullopt;
    const double focal = 0.5 * width / std::tan(0.5 * fieldOfViewDeg * std::numbers::pi / 180.0);
    const cv::Matx33d lens(focal, 0.0, 0.5 * width, 0.0, focal * pixelAspect, 0.5 * height, 0.0, 0.0, 1.0);
    std::vector<cv::Point3d> points;
    std::vector<cv::Point2d> seen;
    for (const Match& match : matches) {
        points.emplace_back((match.x - 0.5 * width) * match.distance / focal,
                            (match.y - 0.5 * height) * match.distance / (focal * pixelAspect),
                            match.distance);
        seen.emplace_back(match.toX, match.toY);
    }
    // Cameras hardly move from frame to frame: from standing still.
    cv::Mat turn = cv::Mat::zeros(3, 1, CV_64F);
    cv::Mat shift = cv::Mat::zeros(3, 1, CV_64F);
    std::vector<int> agreeing;
    try {
        constexpr int tries = 200;
        if (!cv::solvePnPRansac(points, seen, lens, cv::noArray(), turn, shift, true, tries, kNear, 0.999,
                                agreeing, cv::SOLVEPNP_ITERATIVE) ||
            agreeing.size() < kFewestMatches / 2)
            return std::nullopt;
        std::vector<cv::Point3d> still;
        std::vector<cv::Point2d> stillSeen;
        for (const int i : agreeing) {
            still.push_back(points[static_cast<std::size_t>(i)]);
            stillSeen.push_back(seen[static_cast<std::size_t>(i)]);
        }
        cv::solvePnPRefineLM(still, stillSeen, lens, cv::noArray(), turn, shift);
    } catch (const cv::Exception&) { // points that tell no camera
        return std::nullopt;
    }
    std::vector<cv::Point2d> placed;
    cv::projectPoints(points, turn, shift, lens, cv::noArray(), placed);
    CameraStep step;
    double sum = 0.0;
    int near = 0;
    for (std::size_t i = 0; i < placed.size(); ++i) {
        const cv::Point2d off = placed[i] - seen[i];
        const double square = off.dot(off);
        if (!(square <= static_cast<double>(kNear) * kNear)) continue;
        sum += square;
        ++near;
    }
    if (near == 0) return std::nullopt;
    step.agree = static_cast<double>(near) / static_cast<double>(matches.size());
    step.errorPx = std::sqrt(sum / near);
    cv::Mat matrix;
    cv::Rodrigues(turn, matrix);
    step.firstToSecond = toStep(matrix, shift);
    return step;
}

} // namespace retinex::others
