#include "core/finish/glow.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>
#include <span>
#include <vector>

namespace retinex::finish {

namespace {

/// Of each Gaussian: share of the radius.
constexpr std::array<double, 3> kSigmas{1.0 / 8.0, 1.0 / 4.0, 1.0 / 2.0};
constexpr double kLeastSigma = 2.0; ///< px of a level of the pyramid; finer ones would alias
constexpr double kReach = 3.0;      ///< standard deviations

/// Half the size; each pixel is the mean of four. An odd edge is repeated.
Plane<float> halved(const Plane<float>& from, const Run& run)
{
    Plane<float> to((from.width() + 1) / 2, (from.height() + 1) / 2);
    parallelFor(to.height(), run, [&](int y) {
        const float* a = from.row(2 * y);
        const float* b = from.row(std::min(2 * y + 1, from.height() - 1));
        float* out = to.row(y);
        const int whole = from.width() / 2;
        for (int x = 0; x < whole; ++x)
            out[x] = 0.25F * ((a[2 * x] + a[2 * x + 1]) + (b[2 * x] + b[2 * x + 1]));
        if (whole < to.width()) out[whole] = 0.5F * (a[2 * whole] + b[2 * whole]);
    });
    return to;
}

/// Adds `small`, between pixels linear, to a picture of twice the size.
void addDoubled(const Plane<float>& small, Plane<float>& to, const Run& run)
{
    parallelFor(to.height(), run, [&](int y) {
        const int near = y / 2;
        const int other = std::clamp(y % 2 == 0 ? near - 1 : near + 1, 0, small.height() - 1);
        const float* a = small.row(near);
        const float* b = small.row(other);
        float* out = to.row(y);
        const auto between = [&](int x) { return 0.75F * a[x] + 0.25F * b[x]; };
        const int last = small.width() - 1;
        for (int x = 0; x < to.width(); ++x) {
            const int at = x / 2;
            const int beside = x % 2 == 0 ? std::max(at - 1, 0) : std::min(at + 1, last);
            out[x] += 0.75F * between(at) + 0.25F * between(beside);
        }
    });
}

cv::Mat matOf(Plane<float>& plane)
{
    return {plane.height(), plane.width(), CV_32F, plane.row(0)};
}

/// The variance that `levels` halvings and doublings add, px of the full size: a mean over 2^n px has
/// (4^n - 1) / 12, and so has each doubling, between two pixels, 3/16 of a small pixel squared.
double pyramidVariance(int levels)
{
    double variance = (std::pow(4.0, levels) - 1.0) / 12.0;
    for (int level = 1; level <= levels; ++level)
        variance += 3.0 / 16.0 * std::pow(4.0, level);
    return variance;
}

int levelFor(double sigma)
{
    int level = 0;
    while (sigma / std::exp2(level + 1) >= kLeastSigma)
        ++level;
    return level;
}

Plane<float> scattered(Plane<float> light, double radiusPx, const std::array<double, 3>& weights,
                       const Run& run, double knownVariance)
{
    std::array<int, 3> levels{};
    for (std::size_t i = 0; i < 3; ++i)
        levels[i] = levelFor(kSigmas[i] * radiusPx);
    const int top = *std::ranges::max_element(levels);
    std::vector<Plane<float>> pyramid{std::move(light)};
    while (static_cast<int>(pyramid.size()) <= top)
        pyramid.push_back(halved(pyramid.back(), run));
    Plane<float> sum;
    for (int level = top; level >= 0; --level) {
        run.throwIfStopped();
        Plane<float>& here = pyramid[static_cast<std::size_t>(level)];
        Plane<float> total(here.width(), here.height());
        if (!sum.empty()) addDoubled(sum, total, run);
        for (std::size_t i = 0; i < 3; ++i) {
            if (levels[i] != level || weights[i] <= 0.0) continue;
            const double wanted =
                std::pow(kSigmas[i] * radiusPx, 2.0) - pyramidVariance(level) - knownVariance;
            const double sigma = std::sqrt(std::max(wanted, 0.0)) / std::exp2(level);
            Plane<float> blurred(here.width(), here.height());
            if (sigma < 0.05) {
                blurred = here;
            } else {
                const int reach = std::max(1, static_cast<int>(std::ceil(kReach * sigma)));
                cv::Mat to = matOf(blurred);
                cv::GaussianBlur(matOf(here), to, cv::Size(2 * reach + 1, 2 * reach + 1), sigma, sigma,
                                 cv::BORDER_REFLECT);
            }
            const auto weight = static_cast<float>(weights[i]);
            parallelFor(here.height(), run, [&](int y) {
                float* to = total.row(y);
                const float* from = blurred.row(y);
                for (int x = 0; x < here.width(); ++x)
                    to[x] += weight * from[x];
            });
        }
        here = {};
        sum = std::move(total);
    }
    return sum;
}

} // namespace

RgbaImage glowingLight(const RgbaImage& picture, const Glow& glow, const Plane<float>& mask, bool isHalfSize,
                       const Run& run)
{
    const int step = isHalfSize ? 2 : 1;
    RgbaImage light((picture.width() + step - 1) / step, (picture.height() + step - 1) / step);
    const auto level = static_cast<float>(glow.level);
    const auto softness = static_cast<float>(glow.softnessStops);
    const auto saturation = static_cast<float>(glow.saturation);
    const float lowest = level * std::exp2(-0.5F * softness);
    const float full = level * std::exp2(0.5F * softness);
    const std::array<float, 3> tint{static_cast<float>(glow.tint[0]), static_cast<float>(glow.tint[1]),
                                    static_cast<float>(glow.tint[2])};
    const auto addPixel = [&](int x, int y, float share, float* const to[3], int at) {
        const std::array<float, 3> c{picture.plane(0).at(x, y), picture.plane(1).at(x, y),
                                     picture.plane(2).at(x, y)};
        const float most = std::max({c[0], c[1], c[2]});
        if (!(most > lowest)) return;
        float weight = share;
        if (most < full) {
            const float t = 0.5F + std::log2(most / level) / softness;
            weight *= t * t * (3.0F - 2.0F * t);
        }
        if (!mask.empty()) weight *= mask.at(x, y);
        const float grey = 0.2126F * c[0] + 0.7152F * c[1] + 0.0722F * c[2];
        for (std::size_t i = 0; i < 3; ++i)
            to[i][at] += std::max(0.0F, weight * tint[i] * (grey + saturation * (c[i] - grey)));
    };
    parallelFor(light.height(), run, [&](int y) {
        float* const to[3] = {light.plane(0).row(y), light.plane(1).row(y), light.plane(2).row(y)};
        if (!isHalfSize) {
            for (int x = 0; x < picture.width(); ++x)
                addPixel(x, y, 1.0F, to, x);
            return;
        }
        for (int sy = 2 * y; sy <= 2 * y + 1; ++sy)
            for (int sx = 0; sx < 2 * light.width(); ++sx) // an odd edge is repeated
                addPixel(std::min(sx, picture.width() - 1), std::min(sy, picture.height() - 1), 0.25F, to,
                         sx / 2);
    });
    return light;
}

void scatter(RgbaImage& light, double radiusPx, double tail, const Run& run, double knownVariance)
{
    const std::array<double, 3> weights{(1.0 - tail) * (1.0 - tail), 2.0 * tail * (1.0 - tail), tail * tail};
    for (int c = 0; c < 3; ++c)
        light.plane(c) = scattered(std::move(light.plane(c)), radiusPx, weights, run, knownVariance);
}

Scattered glowOf(const Canvas& canvas, const Glow& glow, const Plane<float>& mask, const Run& run)
{
    const double radiusPx = glow.radius * canvas.frameWidth;
    Scattered result;
    result.isHalfSize = 0.5 * kSigmas[0] * radiusPx >= 1.0;
    result.light = glowingLight(canvas.image, glow, mask, result.isHalfSize, run);
    // What halving and doubling it once more will add, in its own px, is taken off.
    scatter(result.light, result.isHalfSize ? 0.5 * radiusPx : radiusPx, glow.tail, run,
            result.isHalfSize ? 0.25 * pyramidVariance(1) : 0.0);
    return result;
}

namespace {

/// A row of a picture of twice the size; between pixels linear.
void doubledRow(const Plane<float>& small, int y, std::span<float> out)
{
    const int near = y / 2;
    const float* a = small.row(near);
    const float* b = small.row(std::clamp(y % 2 == 0 ? near - 1 : near + 1, 0, small.height() - 1));
    const int last = small.width() - 1;
    const auto between = [&](int x) { return 0.75F * a[x] + 0.25F * b[x]; };
    float left = between(0);
    float here = left;
    for (int x = 0; x <= last; ++x) {
        const float right = x < last ? between(x + 1) : here;
        const auto at = static_cast<std::size_t>(2 * x);
        out[at] = 0.75F * here + 0.25F * left;
        if (at + 1 < out.size()) out[at + 1] = 0.75F * here + 0.25F * right;
        left = here;
        here = right;
    }
}

void blendRow(GlowBlend blend, float amount, const float* from, float* to, int width)
{
    switch (blend) {
    case GlowBlend::add:
        for (int x = 0; x < width; ++x)
            to[x] += amount * from[x];
        break;
    case GlowBlend::screen:
        for (int x = 0; x < width; ++x) {
            const float g = amount * from[x];
            to[x] += std::max(0.0F, g - std::clamp(to[x], 0.0F, 1.0F) * std::min(g, 1.0F));
        }
        break;
    case GlowBlend::lighten:
        for (int x = 0; x < width; ++x)
            to[x] = std::max(to[x], amount * from[x]);
        break;
    }
}

} // namespace

void addGlow(Canvas& canvas, const Scattered& scattered, const Glow& glow, const Run& run)
{
    const int width = canvas.image.width();
    parallelFor(canvas.image.height(), run, [&](int y) {
        std::vector<float> row(static_cast<std::size_t>(width));
        for (int c = 0; c < 3; ++c) {
            const Plane<float>& light = scattered.light.plane(c);
            if (scattered.isHalfSize) doubledRow(light, y, row);
            blendRow(glow.blend, static_cast<float>(glow.amount),
                     scattered.isHalfSize ? row.data() : light.row(y), canvas.image.plane(c).row(y), width);
        }
    });
}

namespace {

/// A mask of the frame for the pixels of a canvas; beyond the frame as at its edge.
Plane<float> maskFor(const Canvas& canvas, const Plane<float>& mask)
{
    if (mask.empty()) return {};
    Plane<float> result(canvas.image.width(), canvas.image.height());
    for (int y = 0; y < result.height(); ++y)
        for (int x = 0; x < result.width(); ++x)
            result.at(x, y) = mask.at(std::clamp(x + canvas.box.minX, 0, mask.width() - 1),
                                      std::clamp(y + canvas.box.minY, 0, mask.height() - 1));
    return result;
}

/// Each is of the picture as it came through the lens.
void addGlows(Canvas& canvas, const Steps& steps, const Sources& sources, const Run& run)
{
    std::vector<Scattered> lights(steps.glows.size());
    for (std::size_t i = 0; i < steps.glows.size(); ++i) {
        if (!isUsed(steps.glows[i])) continue;
        run.throwIfStopped();
        const Plane<float> mask =
            i < sources.glowMasks.size() ? maskFor(canvas, sources.glowMasks[i]) : Plane<float>();
        lights[i] = glowOf(canvas, steps.glows[i], mask, run);
    }
    for (std::size_t i = 0; i < steps.glows.size(); ++i)
        if (isUsed(steps.glows[i])) addGlow(canvas, lights[i], steps.glows[i], run);
}

} // namespace

const Step kGlow{"glow",
                 "Glow",
                 "Light scattered around bright parts.",
                 [](const Steps& steps) { return steps.hasGlow(); },
                 addGlows,
                 [](const Steps&, const PixelBox& wanted, int frameWidth, int frameHeight) -> PixelBox {
                     return {std::min(0, wanted.minX), std::min(0, wanted.minY),
                             std::max(frameWidth - 1, wanted.maxX), std::max(frameHeight - 1, wanted.maxY)};
                 }};

} // namespace retinex::finish
