#include "bench/rim_trials.h"

#include "bench/measure.h"
#include "bench/probe.h"
#include "bench/toned.h"
#include "core/depth/depth_reading.h"
#include "reference/scenes.h"
#include "reference/shapes.h"

#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <numbers>
#include <opencv2/imgproc.hpp>

namespace retinex::bench {

namespace {

constexpr int kFine = 8; ///< samples across a pixel

reference::Scene silhouettes()
{
    using namespace reference;
    Scene scene;
    const int object = scene.addObject("");
    const int wall = scene.addMaterial({{0.55F, 0.6F, 0.7F}, {0.5F, 0.54F, 0.63F}, Pattern::planks, 1.F, {}});
    const int ball = scene.addMaterial({{0.5F, 0.12F, 0.06F}, {}, Pattern::plain, 1.F, {}});
    const int bar = scene.addMaterial({{0.03F, 0.04F, 0.03F}, {}, Pattern::plain, 1.F, {}});
    scene.add(box({-6.F, -4.F, -4.1F}, {6.F, 4.F, -4.F}, {wall, object}));
    scene.add(sphere({-0.25F, 0.F, -2.F}, 0.35F, {ball, object}, 128));
    scene.add(beam({0.25F, -0.6F, -2.F}, {0.42F, 0.6F, -2.F}, 0.07F, {bar, object}));
    scene.setAmbient({1.F, 1.F, 1.F}, {1.F, 1.F, 1.F});
    scene.commit();
    return scene;
}

/// A filter across one axis: its weight `x` px from the pixel's middle; 0 beyond half its width.
struct Filter
{
    std::string name;
    double width = 1.0; ///< px
    std::function<double(double x, double width)> weight;
    double gamma = 1.0;      ///< colour is averaged to this power
    bool isAdaptive = false; ///< where the pixel's corners are alike one sample stands for it
    double depthX = 0.0;     ///< px from the pixel's middle
    double depthY = 0.0;
};

double evenly(double, double)
{
    return 1.0;
}
double gaussian(double x, double width)
{
    const double sigma = width / 4.0;
    return std::exp(-0.5 * x * x / (sigma * sigma));
}
/// Harris, "On the use of windows for harmonic analysis", Proc. IEEE 66(1), 1978: four terms, -92 dB.
double blackmanHarris(double x, double width)
{
    const double turn = 2.0 * std::numbers::pi * (x / width + 0.5);
    return 0.35875 - 0.48829 * std::cos(turn) + 0.14128 * std::cos(2.0 * turn) -
           0.01168 * std::cos(3.0 * turn);
}

std::vector<Filter> filters()
{
    std::vector<Filter> all;
    for (const double width : {1.0, 2.0, 3.0}) {
        all.push_back({fmt::format("box, {:.0f} px", width), width, evenly});
        all.push_back({fmt::format("Gaussian, {:.0f} px", width), width, gaussian});
        all.push_back({fmt::format("Blackman-Harris, {:.0f} px", width), width, blackmanHarris});
    }
    all.push_back({"averaged in gamma 2.2", 1.0, evenly, 1.0 / 2.2});
    all.push_back({"adaptive", 1.0, evenly, 1.0, true});
    all.push_back({"depth off by 0.25 px", 1.0, evenly, 1.0, false, 0.25, 0.25});
    all.push_back({"depth off by 0.5 px", 1.0, evenly, 1.0, false, 0.49, 0.49});
    return all;
}

cv::Mat asMat(const Plane<float>& plane)
{
    return {plane.height(), plane.width(), CV_32F, const_cast<float*>(plane.row(0))};
}

Plane<float> filtered(const Plane<float>& fine, const Filter& filter)
{
    const int reach = static_cast<int>(filter.width * kFine / 2);
    // The pixel's middle lies between two samples.
    cv::Mat weights(1, 2 * reach, CV_32F);
    double sum = 0.0;
    for (int i = 0; i < 2 * reach; ++i) {
        const double weight = filter.weight((i - reach + 0.5) / kFine, filter.width);
        weights.at<float>(0, i) = static_cast<float>(weight);
        sum += weight;
    }
    weights /= sum;
    cv::Mat values;
    cv::pow(cv::max(asMat(fine), 0.0), filter.gamma, values);
    cv::Mat smooth;
    cv::sepFilter2D(values, smooth, CV_32F, weights, weights.t(), cv::Point(reach, reach), 0.0,
                    cv::BORDER_REPLICATE);
    cv::pow(smooth, 1.0 / filter.gamma, smooth);
    Plane<float> result(fine.width() / kFine, fine.height() / kFine);
    for (int y = 0; y < result.height(); ++y)
        for (int x = 0; x < result.width(); ++x) {
            const int fx = x * kFine + kFine / 2;
            const int fy = y * kFine + kFine / 2;
            result.at(x, y) = smooth.at<float>(fy, fx);
            if (!filter.isAdaptive) continue;
            const auto corner = [&](int cx, int cy) { return fine.at(x * kFine + cx, y * kFine + cy); };
            const auto [low, high] = std::minmax(
                {corner(0, 0), corner(kFine - 1, 0), corner(0, kFine - 1), corner(kFine - 1, kFine - 1)});
            if (high - low < 0.05F) result.at(x, y) = fine.at(fx, fy);
        }
    return result;
}

struct Beyond
{
    double most = 0.0;
    double share = 0.0;
};

/// By how much a picture leaves what the traced one has within 5 x 5.
Beyond beyond(const RgbaImage& picture, const RgbaImage& truth, const Plane<float>& nearEdges)
{
    Beyond result;
    double count = 0.0;
    double many = 0.0;
    cv::Mat worst = cv::Mat::zeros(truth.height(), truth.width(), CV_32F);
    for (int c = 0; c < 3; ++c) {
        const cv::Mat ours = bench::toned(picture.plane(c));
        const cv::Mat traced = bench::toned(truth.plane(c));
        cv::Mat low;
        cv::Mat high;
        const cv::Mat around = cv::Mat::ones(5, 5, CV_8U);
        cv::erode(traced, low, around);
        cv::dilate(traced, high, around);
        const cv::Mat below = low - ours;
        const cv::Mat above = ours - high;
        worst = cv::max(worst, cv::Mat(cv::max(below, above)));
    }
    for (int y = 0; y < worst.rows; ++y)
        for (int x = 0; x < worst.cols; ++x) {
            if (nearEdges.at(x, y) == 0.0F) continue;
            const auto value = static_cast<double>(worst.at<float>(y, x));
            result.most = std::max(result.most, value);
            count += 1.0;
            if (value > 0.02) many += 1.0;
        }
    result.share = many / count;
    return result;
}

} // namespace

std::vector<RimRow> rims(int width, int samples)
{
    const reference::Scene scene = silhouettes();
    const reference::Camera camera{{0.F, 0.F, 0.F}, {0.F, 0.F, -1.F}, 50.F, 36.F, width, width * 9 / 16};
    reference::Camera fine = camera;
    fine.width *= kFine;
    fine.height *= kFine;
    const auto passes = reference::renderPasses(scene, fine, 16);
    std::vector<RimRow> rows;
    for (const double radiusPx : {0.5, 1.0, 2.0, 4.0}) {
        reference::LensSampling lens;
        lens.samples = samples;
        lens.mostRounds = 16;
        lens.focusDistance = 4.0;
        lens.fStop = 1.0;
        const auto radiusAt = [&] {
            return std::abs(reference::engineSettings(camera, lens).blurModel(width).radiusPx(1.65));
        };
        lens.fStop = radiusAt() / radiusPx;
        const RgbaImage truth = reference::renderLens(scene, camera, lens);
        const auto settings = reference::engineSettings(camera, lens);
        for (const Filter& filter : filters()) {
            RgbaImage colour(camera.width, camera.height);
            for (int c = 0; c < RgbaImage::channels; ++c)
                colour.plane(c) = filtered(passes.colour.plane(c), filter);
            Plane<float> depth(camera.width, camera.height);
            for (int y = 0; y < camera.height; ++y)
                for (int x = 0; x < camera.width; ++x)
                    depth.at(x, y) =
                        passes.depth.at(x * kFine + static_cast<int>((0.5 + filter.depthX) * kFine),
                                        y * kFine + static_cast<int>((0.5 + filter.depthY) * kFine));
            const auto distance = depth::toDistance(depth).distance;
            const auto nearEdges = edgeBand(distance);
            const auto ours = beyond(defocus::defocus({colour, distance}, settings), truth, nearEdges);
            const auto radius = defocus::blurRadiusPx(distance, settings);
            const auto probed = beyond(probe(colour, radius, settings.iris), truth, nearEdges);
            rows.push_back({filter.name, radiusPx, ours.most, ours.share, probed.most, probed.share});
        }
    }
    return rows;
}

} // namespace retinex::bench
