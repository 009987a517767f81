#include "core/tracking/point_tracker.h"

#include "core/tracking/cv_picture.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

namespace retinex::tracking {

namespace {

constexpr int kGrid = 5;           ///< points across the patch
constexpr double kComesBack = 0.7; ///< px that a point followed there and back may be off
constexpr int kSearch = 4;         ///< px around the predicted place
constexpr double kNewPatch = 0.8;  ///< a patch that looks less alike is taken anew ...
constexpr double kStepAlike = 0.9; ///< ... if it looks so much like that of the frame before

using Points = std::vector<cv::Point2f>;

cv::Mat patchAt(const cv::Mat& image, cv::Point2f at, int half)
{
    cv::Mat patch;
    cv::getRectSubPix(image, cv::Size(2 * half + 1, 2 * half + 1), at, patch);
    return patch;
}

/// Median shift of the points around `at`; nothing where fewer than a quarter of them can be followed.
std::optional<cv::Point2f> medianShift(const cv::Mat& from, const cv::Mat& to, cv::Point2f at, int half)
{
    Points points;
    const auto place = [half](int i) {
        return (2.F * static_cast<float>(i) / (kGrid - 1) - 1.F) * static_cast<float>(half);
    };
    const cv::Rect2f inside(0.F, 0.F, static_cast<float>(from.cols - 1), static_cast<float>(from.rows - 1));
    for (int row = 0; row < kGrid; ++row)
        for (int column = 0; column < kGrid; ++column) {
            const cv::Point2f point = at + cv::Point2f(place(column), place(row));
            if (inside.contains(point)) points.push_back(point);
        }
    if (points.empty()) return std::nullopt;
    const Followed followed = follow(from, to, points, 3, kComesBack);
    std::vector<float> dx;
    std::vector<float> dy;
    for (std::size_t i = 0; i < followed.from.size(); ++i) {
        dx.push_back(followed.to[i].x - followed.from[i].x);
        dy.push_back(followed.to[i].y - followed.from[i].y);
    }
    if (dx.size() < points.size() / 4) return std::nullopt;
    const auto median = [](std::vector<float>& values) {
        const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
        std::nth_element(values.begin(), middle, values.end());
        return *middle;
    };
    return cv::Point2f(median(dx), median(dy));
}

struct Match
{
    cv::Point2f at;
    double alike = -1.0; ///< normalised correlation
};

/// The vertex of the parabola through three values at -1, 0, 1.
float vertex(float before, float here, float after)
{
    const float bend = before - 2.F * here + after;
    return std::abs(bend) < 1e-9F ? 0.F : std::clamp(0.5F * (before - after) / bend, -0.5F, 0.5F);
}

/// Where around `at` the patch is found best, to a part of a px. At the picture's edge only the part of the
/// patch counts that lies within it.
Match bestMatch(const cv::Mat& image, const cv::Mat& patch, cv::Point2f at)
{
    const int half = patch.cols / 2;
    const auto cut = [&](float room) {
        return std::clamp(static_cast<int>(std::ceil(static_cast<float>(half + kSearch) - room)), 0, half);
    };
    const int left = cut(at.x);
    const int top = cut(at.y);
    const int right = cut(static_cast<float>(image.cols - 1) - at.x);
    const int bottom = cut(static_cast<float>(image.rows - 1) - at.y);
    const cv::Rect kept(left, top, patch.cols - left - right, patch.rows - top - bottom);
    const cv::Point2f middle =
        at + 0.5F * cv::Point2f(static_cast<float>(left - right), static_cast<float>(top - bottom));
    cv::Mat around;
    cv::getRectSubPix(image, cv::Size(kept.width + 2 * kSearch, kept.height + 2 * kSearch), middle, around);
    cv::Mat alike;
    cv::matchTemplate(around, patch(kept), alike, cv::TM_CCOEFF_NORMED);
    double best = 0.0;
    cv::Point where;
    cv::minMaxLoc(alike, nullptr, &best, nullptr, &where);
    if (!std::isfinite(best)) best = 0.0; // nothing but one grey
    const auto value = [&](int dx, int dy) {
        return alike.at<float>(std::clamp(where.y + dy, 0, alike.rows - 1),
                               std::clamp(where.x + dx, 0, alike.cols - 1));
    };
    const cv::Point2f part(vertex(value(-1, 0), value(0, 0), value(1, 0)),
                           vertex(value(0, -1), value(0, 0), value(0, 1)));
    return {at + cv::Point2f(static_cast<float>(where.x - kSearch), static_cast<float>(where.y - kSearch)) +
                part,
            best};
}

/// The patch lies in the picture with all of it.
bool isWhole(const cv::Mat& image, cv::Point2f at, int half)
{
    const auto reach = static_cast<float>(half);
    return at.x >= reach && at.y >= reach && at.x < static_cast<float>(image.cols) - reach &&
           at.y < static_cast<float>(image.rows) - reach;
}

} // namespace

Track trackPoint(const FramePicture& picture, const timeline::Place& start, int lastFrame,
                 const TrackSettings& settings, const Run& run)
{
    Track track;
    const int step = lastFrame < start.frame ? -1 : 1;
    const int half = std::max(4, static_cast<int>(std::lround(settings.patchPx)));
    cv::Mat before = toMat(picture(start.frame));
    cv::Point2f at = toCv(start.x, start.y);
    cv::Mat patch = patchAt(before, at, half);
    cv::Point2f shift(0.F, 0.F);
    double trust = 1.0; // falls when the patch is taken anew
    const double total = std::max(1, std::abs(lastFrame - start.frame));
    for (int frame = start.frame + step; step > 0 ? frame <= lastFrame : frame >= lastFrame; frame += step) {
        run.throwIfStopped();
        if (run.progress) run.progress(std::abs(frame - start.frame) / total);
        track.endFrame = frame;
        const cv::Mat here = toMat(picture(frame));
        // It goes where its surroundings go, or on as it did before: whichever looks more like it. (At the
        // picture's edge and in patterns the surroundings mislead.)
        const auto found = medianShift(before, here, at, half);
        const auto isOutside = [&](cv::Point2f p) {
            return p.x < -0.5F || p.y < -0.5F || p.x >= static_cast<float>(here.cols) - 0.5F ||
                   p.y >= static_cast<float>(here.rows) - 0.5F;
        };
        if (isOutside(at + shift) && (!found || isOutside(at + *found) || !isWhole(here, at, half))) {
            track.end = TrackEnd::leftFrame;
            break;
        }
        cv::Point2f predicted = at + shift;
        Match match = bestMatch(here, patch, predicted);
        if (found) {
            const Match other = bestMatch(here, patch, at + *found);
            if (other.alike >= match.alike) {
                match = other;
                predicted = at + *found;
            }
        }
        if (match.alike < kNewPatch) {
            const cv::Mat last = patchAt(before, at, half);
            const Match near = bestMatch(here, last, predicted);
            if (near.alike > kStepAlike) {
                patch = last;
                trust *= std::max(match.alike, kStepAlike);
                match = near;
            }
        }
        const double confidence = trust * match.alike;
        if (confidence < settings.leastConfidence) {
            track.end = TrackEnd::lost;
            break;
        }
        shift = match.at - at;
        at = match.at;
        track.places.push_back({frame, at.x + 0.5, at.y + 0.5, confidence});
        before = here;
    }
    if (step < 0) std::reverse(track.places.begin(), track.places.end());
    return track;
}

} // namespace retinex::tracking
