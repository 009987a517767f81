#include "core/finish/grain.h"

#include "core/finish/tone_table.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <numbers>

namespace retinex::finish {

namespace {

constexpr float kStop = 1.0F / 17.52F;
constexpr float kBreakLight = 0.0078125F;
constexpr float kBreakTone = 0.155251141552511F;
constexpr float kToeSlope = 10.5402377416545F;
constexpr float kToeOffset = 0.0729055341958355F;

/// Half of a disc lies over itself moved by this share of its diameter (the lens between two circles).
constexpr double kHalfAlike = 0.404;

/// A hash with even bits: Wellons's "lowbias32" (nullprogram.com, 2018).
std::uint32_t mixed(std::uint32_t x)
{
    x ^= x >> 16U;
    x *= 0x7feb352dU;
    x ^= x >> 15U;
    x *= 0x846ca68bU;
    return x ^ (x >> 16U);
}

/// Quantiles of the normal distribution at the middles of 2^12 equal parts, scaled to a variance of exactly
/// 1: a share from the lower bits is added between them.
class NormalTable
{
public:
    static constexpr std::uint32_t kBits = 12;
    NormalTable()
    {
        constexpr std::size_t count = 1U << kBits;
        double square = 0.0;
        for (std::size_t i = 0; i < count; ++i) {
            m_values[i] = static_cast<float>(quantile((static_cast<double>(i) + 0.5) / count));
            square += static_cast<double>(m_values[i]) * static_cast<double>(m_values[i]);
        }
        const auto scale = static_cast<float>(1.0 / std::sqrt(square / count));
        for (float& value : m_values)
            value *= scale;
    }
    [[nodiscard]] float operator()(std::uint32_t hash) const { return m_values[hash >> (32U - kBits)]; }

private:
    /// By Newton's method on the distribution function.
    static double quantile(double p)
    {
        double x = 0.0;
        for (int i = 0; i < 60; ++i) {
            const double f = 0.5 * std::erfc(-x / std::sqrt(2.0)) - p;
            const double d = std::exp(-0.5 * x * x) / std::sqrt(2.0 * 3.14159265358979323846);
            x -= std::clamp(f / d, -0.5, 0.5);
        }
        return x;
    }
    std::array<float, 1U << kBits> m_values{};
};

float normal(std::uint32_t hash)
{
    static const NormalTable table;
    return table(hash);
}

/// White noise of a plane over a box, spread by the kernel. `key` tells planes apart.
Plane<float> spreadNoise(std::uint32_t key, const PixelBox& box, const Plane<float>& kernel, const Run& run)
{
    const int reach = kernel.width() / 2;
    const int width = box.width();
    Plane<float> result(width, box.height());
    // In bands, each with the noise around it: a row is made where it is needed, a little more than once.
    constexpr int kBand = 64;
    const int bands = (box.height() + kBand - 1) / kBand;
    parallelFor(bands, run, [&](int band) {
        const int first = band * kBand;
        const int last = std::min(first + kBand, box.height());
        Plane<float> white(width + 2 * reach, last - first + 2 * reach);
        for (int y = 0; y < white.height(); ++y) {
            const std::uint32_t rowKey =
                mixed(key ^ mixed(static_cast<std::uint32_t>(box.minY + first + y - reach)));
            float* row = white.row(y);
            for (int x = 0; x < white.width(); ++x)
                row[x] = normal(mixed(rowKey ^ static_cast<std::uint32_t>(box.minX + x - reach)));
        }
        // Row by row and tap by tap: every pixel adds up in the same order wherever it lies.
        for (int y = first; y < last; ++y) {
            float* __restrict out = result.row(y);
            for (int j = 0; j < kernel.height(); ++j)
                for (int i = 0; i < kernel.width(); ++i) {
                    const float weight = kernel.at(i, j);
                    if (weight == 0.0F) continue;
                    const float* __restrict from = white.row(y - first + j) + i;
                    for (int x = 0; x < width; ++x)
                        out[x] += weight * from[x];
                }
        }
    });
    return result;
}

/// The mean of fromTone(tone + sigma * n) over a normal n, by Gauss and Hermite's rule with 9 points
/// (Abramowitz and Stegun, table 25.10).
double meanLight(double tone, double sigma)
{
    static constexpr double kAt[5] = {0.0, 0.723551018752838, 1.468553289216668, 2.266580584531843,
                                      3.190993201781528};
    static constexpr double kWeight[5] = {0.720235215606051, 0.432651559002556, 0.0884745273943766,
                                          0.00494362427553695, 0.0000396069772632644};
    double sum = 0.0;
    for (int i = 0; i < 5; ++i)
        for (const double sign : {-1.0, 1.0}) {
            if (i == 0 && sign > 0.0) continue;
            sum += kWeight[i] * static_cast<double>(fromTone(
                                    static_cast<float>(tone + sign * kAt[i] * std::sqrt(2.0) * sigma)));
        }
    return sum / std::sqrt(3.14159265358979323846);
}

/// log2 to 1e-6, quick: exponent, and a series of the odd powers of (m - 1) / (m + 1).
float quickLog2(float x)
{
    const auto bits = std::bit_cast<std::uint32_t>(x);
    int exponent = static_cast<int>(bits >> 23U) - 127;
    float m = std::bit_cast<float>((bits & 0x7fffffU) | 0x3f800000U);
    if (m > 1.41421356F) {
        m *= 0.5F;
        ++exponent;
    }
    const float t = (m - 1.0F) / (m + 1.0F);
    const float t2 = t * t;
    return static_cast<float>(exponent) +
           2.88539008F * t * (1.0F + t2 * (1.0F / 3.0F + t2 * (0.2F + t2 * (1.0F / 7.0F + t2 / 9.0F))));
}

/// 2^x to 1e-7, for -126 < x < 127: a whole power and a series.
float quickExp2(float x)
{
    const float whole = std::floor(x + 0.5F);
    const float t = (x - whole) * 0.69314718F;
    const float part =
        1.0F +
        t * (1.0F + t * (0.5F + t * (1.0F / 6.0F + t * (1.0F / 24.0F + t * (1.0F / 120.0F + t / 720.0F)))));
    return part * std::bit_cast<float>(static_cast<std::uint32_t>(static_cast<int>(whole) + 127) << 23U);
}

} // namespace

float toTone(float light) noexcept
{
    if (!(light > kBreakLight)) return kToeSlope * light + kToeOffset;
    return (quickLog2(std::min(light, 1e9F)) + 9.72F) * kStop;
}

float fromTone(float tone) noexcept
{
    if (!(tone > kBreakTone)) return (tone - kToeOffset) / kToeSlope;
    return quickExp2(std::min(tone * 17.52F - 9.72F, 40.0F));
}

namespace {

/// A disc under a Gaussian, over pixels; not scaled.
Plane<float> discKernel(double radius, double sigma)
{
    constexpr int kParts = 7; // of a pixel: as fine as is needed to draw a small disc
    const int reach = std::max(0, static_cast<int>(std::ceil(radius + 3.0 * sigma - 0.5)));
    // Once along the radius, for distances in parts of a pixel.
    std::vector<double> profile;
    for (int i = 0; i <= static_cast<int>(std::hypot(reach + 0.5, reach + 0.5) * kParts) + 1; ++i) {
        const double d = static_cast<double>(i) / kParts;
        double sum = d <= radius ? 1.0 : 0.0;
        double all = 1.0;
        for (int b = -12; sigma > 1e-3 && b <= 12; ++b)
            for (int a = -12; a <= 12; ++a) {
                if (a == 0 && b == 0) continue; // counted
                const double ox = 3.0 * sigma * a / 12.0;
                const double oy = 3.0 * sigma * b / 12.0;
                const double weight = std::exp(-0.5 * (ox * ox + oy * oy) / (sigma * sigma));
                all += weight;
                if (std::hypot(d + ox, oy) <= radius) sum += weight;
            }
        profile.push_back(sum / all);
    }
    Plane<float> kernel(2 * reach + 1, 2 * reach + 1);
    for (int y = 0; y < kernel.height(); ++y)
        for (int x = 0; x < kernel.width(); ++x) {
            double sum = 0.0;
            for (int b = 0; b < kParts; ++b)
                for (int a = 0; a < kParts; ++a) {
                    const double d = std::hypot(x - reach + (a + 0.5) / kParts - 0.5,
                                                y - reach + (b + 0.5) / kParts - 0.5);
                    sum += profile[std::min(static_cast<std::size_t>(std::lround(d * kParts)),
                                            profile.size() - 1)];
                }
            kernel.at(x, y) = static_cast<float>(sum);
        }
    return kernel;
}

/// Where the noise that a kernel makes is half alike, px; between pixels linear.
double halfAlike(const Plane<float>& kernel)
{
    const auto overlap = [&](int by) {
        double sum = 0.0;
        for (int y = 0; y < kernel.height(); ++y)
            for (int x = 0; x + by < kernel.width(); ++x)
                sum += static_cast<double>(kernel.at(x, y)) * static_cast<double>(kernel.at(x + by, y));
        return sum;
    };
    const double whole = overlap(0);
    double before = 1.0;
    for (int by = 1;; ++by) {
        const double now = overlap(by) / whole;
        if (now <= 0.5) return by - 1 + (before - 0.5) / (before - now);
        before = now;
    }
}

} // namespace

Plane<float> grainKernel(double sizePx, double softness)
{
    const double wanted = kHalfAlike * sizePx;
    // A Gaussian of s is half alike 2 s sqrt(ln 2) away: of softness 1 nothing else is left.
    const double sigma = softness * wanted / (2.0 * std::sqrt(std::log(2.0)));
    double low = 0.05;
    double high = 0.5 * sizePx + 0.05;
    for (int i = 0; i < 10; ++i) {
        const double middle = 0.5 * (low + high);
        (halfAlike(discKernel(middle, sigma)) < wanted ? low : high) = middle;
    }
    Plane<float> kernel = discKernel(0.5 * (low + high), sigma);
    double squares = 0.0;
    for (const float weight : kernel.pixels())
        squares += static_cast<double>(weight) * static_cast<double>(weight);
    // What adds less than a thousandth of the variance is left out.
    double kept = 0.0;
    for (float& weight : kernel.pixels()) {
        const double square = static_cast<double>(weight) * static_cast<double>(weight);
        if (square * static_cast<double>(kernel.size()) < 1e-3 * squares)
            weight = 0.0F;
        else
            kept += square;
    }
    for (float& weight : kernel.pixels())
        weight = static_cast<float>(static_cast<double>(weight) / std::sqrt(kept));
    return kernel;
}

std::array<Plane<float>, 3> grainNoise(const Grain& grain, int frame, const PixelBox& box, const Run& run)
{
    const Plane<float> kernel = grainKernel(grain.sizePx, grain.softness);
    const std::uint32_t key = mixed(static_cast<std::uint32_t>(frame) ^
                                    mixed(static_cast<std::uint32_t>(grain.seed) + 0x9e3779b9U));
    const auto plane = [&](std::uint32_t which) { return spreadNoise(mixed(key + which), box, kernel, run); };
    // Each colour is a of its own field and b of all three: (a + b)^2 + 2 b^2 = 1, 2 b (a + b) + b^2 = 1 -
    // colour^2.
    const double own = grain.colour;
    const auto a = static_cast<float>(own);
    const auto b = static_cast<float>((std::sqrt(3.0 - 2.0 * own * own) - own) / 3.0);
    std::array<Plane<float>, 3> noise;
    noise[0] = plane(1);
    for (std::uint32_t c = 1; c < 3; ++c)
        noise[c] = own > 0.0 ? plane(c + 1) : noise[0];
    parallelFor(box.height(), run, [&](int y) {
        float* const rows[3] = {noise[0].row(y), noise[1].row(y), noise[2].row(y)};
        if (own > 0.0)
            for (int x = 0; x < box.width(); ++x) {
                const float all = b * (rows[0][x] + rows[1][x] + rows[2][x]);
                for (float* row : rows)
                    row[x] = a * row[x] + all;
            }
        // The share of a normal distribution below it is even between 0 and 1.
        if (grain.kind == GrainKind::uniform)
            for (float* row : rows)
                for (int x = 0; x < box.width(); ++x)
                    row[x] = 1.7320508F * std::erf(row[x] * 0.70710678F);
    });
    return noise;
}

double grainAmount(const Grain& grain, double tone) noexcept
{
    const double stops = tone * 17.52 - 9.72 - std::log2(0.18); // from mid grey
    const double share =
        stops < 0.0 ? grain.midtones + (grain.shadows - grain.midtones) * std::min(1.0, -stops / 5.0)
                    : grain.midtones + (grain.highlights - grain.midtones) * std::min(1.0, stops / 3.5);
    return grain.amount * share;
}

void addGrain(Canvas& canvas, const Grain& grain, int frame, const Run& run)
{
    const auto noise = grainNoise(grain, frame, canvas.box, run);
    // Of a small picture a pixel is the mean of many, and of grains smaller than itself: they even out.
    const double area = std::numbers::pi / 4.0 * std::pow(grain.sizePx * canvas.divisor, 2.0);
    const double share =
        canvas.divisor > 1 ? std::sqrt(area / (area + canvas.divisor * canvas.divisor)) : 1.0;
    // By the light: the amount, and the factor that brings the mean back. Where the scale is even it is 1.
    const auto amountAt = [&](float light) {
        return share * grainAmount(grain, static_cast<double>(toTone(light)));
    };
    const ToneTable amounts([&](std::span<float> places) {
        for (float& place : places)
            place = static_cast<float>(amountAt(place));
    });
    const ToneTable factors([&](std::span<float> places) {
        for (float& place : places) {
            const double mean = meanLight(static_cast<double>(toTone(place)), amountAt(place));
            place =
                place > 1e-3F && mean > 1e-4 ? static_cast<float>(static_cast<double>(place) / mean) : 1.0F;
        }
    });
    parallelFor(canvas.image.height(), run, [&](int y) {
        const float* alpha = canvas.image.plane(3).row(y);
        for (std::size_t c = 0; c < 3; ++c) {
            float* row = canvas.image.plane(static_cast<int>(c)).row(y);
            const float* n = noise[c].row(y);
            for (int x = 0; x < canvas.image.width(); ++x) {
                const float a = alpha[x] > 1e-4F ? std::min(alpha[x], 1.0F) : 1.0F;
                const float light = row[x] / a;
                if (light == 0.0F && alpha[x] <= 1e-4F) continue; // nothing is there
                const float by = amounts(light) * n[x];
                // Above the break a step of the scale is a factor.
                const float grown = light * quickExp2(17.52F * by);
                const float grainy =
                    light > kBreakLight && grown > kBreakLight ? grown : fromTone(toTone(light) + by);
                row[x] = a * grainy * factors(light);
            }
        }
    });
}

const Step kGrain{
    "grain", "Grain", "Noise made here, another on every frame.",
    [](const Steps& steps) { return steps.finish.grain.isOn && steps.finish.grain.amount > 0.0; },
    [](Canvas& canvas, const Steps& steps, const Sources& sources, const Run& run) {
        addGrain(canvas, steps.finish.grain, sources.frame, run);
    }};

} // namespace retinex::finish
