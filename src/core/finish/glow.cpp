#include "core/finish/glow.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

namespace retinex::finish {

namespace {

/// Of each Gaussian: share of the radius.
constexpr std::array<double, 3> kSigmas{1.0 / 8.0, 1.0 / 4.0, 1.0 / 2.0};
constexpr double kLeastSigma = 2.0; ///< px: what is left for a level of the pyramid; finer ones would alias
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
                       const Run& run)
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
            const double wanted = std::pow(kSigmas[i] * radiusPx, 2.0) - pyramidVariance(level);
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
            for (std::size_t p = 0; p < total.size(); ++p)
                total.pixels()[p] += weight * blurred.pixels()[p];
        }
        here = {};
        sum = std::move(total);
    }
    return sum;
}

} // namespace

RgbaImage glowingLight(const RgbaImage& picture, const Glow& glow, const Plane<float>& mask, const Run& run)
{
    RgbaImage light(picture.width(), picture.height());
    const auto level = static_cast<float>(glow.level);
    const auto softness = static_cast<float>(glow.softnessStops);
    const auto saturation = static_cast<float>(glow.saturation);
    const float lowest = level * std::exp2(-0.5F * softness);
    parallelFor(picture.height(), run, [&](int y) {
        for (int x = 0; x < picture.width(); ++x) {
            const std::array<float, 3> c{picture.plane(0).at(x, y), picture.plane(1).at(x, y),
                                         picture.plane(2).at(x, y)};
            const float most = std::max({c[0], c[1], c[2]});
            if (!(most > lowest)) continue;
            const float t =
                softness > 0.0F ? std::clamp(0.5F + std::log2(most / level) / softness, 0.0F, 1.0F) : 1.0F;
            float weight = t * t * (3.0F - 2.0F * t);
            if (!mask.empty()) weight *= mask.at(x, y);
            if (weight <= 0.0F) continue;
            const float grey = 0.2126F * c[0] + 0.7152F * c[1] + 0.0722F * c[2];
            for (std::size_t i = 0; i < 3; ++i)
                light.plane(static_cast<int>(i)).at(x, y) = std::max(
                    0.0F, weight * static_cast<float>(glow.tint[i]) * (grey + saturation * (c[i] - grey)));
        }
    });
    return light;
}

void scatter(RgbaImage& light, double radiusPx, double tail, const Run& run)
{
    const std::array<double, 3> weights{(1.0 - tail) * (1.0 - tail), 2.0 * tail * (1.0 - tail), tail * tail};
    for (int c = 0; c < 3; ++c)
        light.plane(c) = scattered(std::move(light.plane(c)), radiusPx, weights, run);
}

void addGlow(Canvas& canvas, const RgbaImage& source, const Glow& glow, const Plane<float>& mask,
             const Run& run)
{
    RgbaImage light = glowingLight(source, glow, mask, run);
    scatter(light, glow.radius * canvas.frameWidth, glow.tail, run);
    const auto amount = static_cast<float>(glow.amount);
    for (int c = 0; c < 3; ++c)
        parallelFor(canvas.image.height(), run, [&](int y) {
            float* to = canvas.image.plane(c).row(y);
            const float* from = light.plane(c).row(y);
            for (int x = 0; x < canvas.image.width(); ++x) {
                const float g = amount * from[x];
                switch (glow.blend) {
                case GlowBlend::add:
                    to[x] += g;
                    break;
                case GlowBlend::screen:
                    to[x] += std::max(0.0F, g - std::clamp(to[x], 0.0F, 1.0F) * std::min(g, 1.0F));
                    break;
                case GlowBlend::lighten:
                    to[x] = std::max(to[x], g);
                    break;
                }
            }
        });
}

} // namespace retinex::finish
