#include "core/depth/depth_statistics.h"

#include "core/depth/conditioning.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstdint>

namespace retinex::depth {

namespace {

/// Finite numbers but 0 and `filler`, thinned to about `most`, sorted.
std::vector<float> sortedSample(const Plane<float>& stored, std::size_t most, double filler)
{
    std::vector<float> sample;
    const std::size_t step = std::max<std::size_t>(1, stored.size() / most);
    for (std::size_t i = 0; i < stored.size(); i += step) {
        const float v = stored.pixels()[i];
        if (std::isfinite(v) && v != 0.0F && static_cast<double>(v) != filler) sample.push_back(v);
    }
    std::sort(sample.begin(), sample.end());
    return sample;
}

double percentile(const std::vector<float>& sorted, double share)
{
    if (sorted.empty()) return 0.0;
    const auto index = static_cast<std::size_t>(share * static_cast<double>(sorted.size() - 1) + 0.5);
    return sorted[index];
}

/// 255 or 65535 when every number is that many equal steps of 0..1.
int levelsOf(const std::vector<float>& sample)
{
    for (const int levels : {255, 65535}) {
        // Float holds n/65535 to 2^-25 or better: 1/256 of a step is far beyond rounding.
        const bool fits = std::all_of(sample.begin(), sample.end(), [levels](float v) {
            const double n = static_cast<double>(v) * levels;
            return v >= 0.0F && v <= 1.0F && std::abs(n - std::round(n)) < 1.0 / 256.0;
        });
        if (fits && !sample.empty()) return levels;
    }
    return 0;
}

int significantBitsOf(const std::vector<float>& sample)
{
    int bits = 1;
    for (const float v : sample) {
        const std::uint32_t mantissa = std::bit_cast<std::uint32_t>(v) & 0x7fffffU;
        if (mantissa != 0) bits = std::max(bits, 24 - std::countr_zero(mantissa));
    }
    return bits;
}

void countEdges(const Plane<float>& stored, DepthStatistics& statistics)
{
    std::size_t soft = 0;
    std::size_t clean = 0;
    const auto jumps = [](float a, float b) {
        return std::abs(a - b) > 0.06F * std::max(std::abs(a), std::abs(b));
    };
    const auto along = [&](const float* line, int count, std::ptrdiff_t stride) {
        for (int i = 2; i + 2 < count; ++i) {
            const EdgeRun run = edgeRun(line, count, stride, i);
            if (run.inner > 0 && jumps(run.from, run.to)) {
                ++soft;
                i += run.inner; // once for each run
                continue;
            }
            const float a = line[(i - 1) * stride];
            const float b = line[i * stride];
            const float before = line[(i - 2) * stride];
            const float after = line[(i + 1) * stride];
            const float least = 0.15F * std::abs(b - a);
            if (std::isfinite(a) && std::isfinite(b) && jumps(a, b) && std::abs(a - before) < least &&
                std::abs(after - b) < least)
                ++clean;
        }
    };
    for (int y = 0; y < stored.height(); y += 3)
        along(stored.row(y), stored.width(), 1);
    for (int x = 0; x < stored.width(); x += 3)
        along(stored.row(0) + x, stored.height(), stored.width());
    statistics.edges = soft + clean;
    if (statistics.edges > 0)
        statistics.betweenShare = static_cast<double>(soft) / static_cast<double>(statistics.edges);
}

/// Median of |second difference| / number over places where neighbours are alike.
double noiseOf(const Plane<float>& stored)
{
    std::vector<float> scatter;
    for (int y = 1; y < stored.height(); y += 3) {
        const float* row = stored.row(y);
        for (int x = 1; x + 1 < stored.width(); x += 3) {
            const float middle = row[x];
            if (!(std::abs(row[x + 1] - row[x - 1]) < 0.05F * std::abs(middle)) || middle == 0.0F) continue;
            scatter.push_back(std::abs(row[x - 1] - 2.0F * middle + row[x + 1]) / std::abs(middle));
        }
    }
    if (scatter.size() < 100) return 0.0;
    std::nth_element(scatter.begin(), scatter.begin() + static_cast<std::ptrdiff_t>(scatter.size() / 2),
                     scatter.end());
    return scatter[scatter.size() / 2];
}

void relateToAlpha(const Plane<float>& stored, const Plane<float>& alpha, DepthStatistics& statistics)
{
    std::size_t open = 0;
    std::size_t openZero = 0;
    std::size_t openMost = 0;
    std::size_t openOdd = 0;
    std::size_t opaque = 0;
    std::size_t opaqueEmpty = 0;
    for (std::size_t i = 0; i < stored.size(); ++i) {
        const float v = stored.pixels()[i];
        if (alpha.pixels()[i] <= 0.0F) {
            ++open;
            if (v == 0.0F) ++openZero;
            if (static_cast<double>(v) == statistics.most) ++openMost;
            if (!std::isfinite(v)) ++openOdd;
        } else if (alpha.pixels()[i] > 0.99F) {
            ++opaque;
            if (v == 0.0F || !std::isfinite(v)) ++opaqueEmpty;
        }
    }
    const auto share = [](std::size_t part, std::size_t whole) {
        return whole > 0 ? static_cast<double>(part) / static_cast<double>(whole) : 0.0;
    };
    statistics.openShare = share(open, stored.size());
    statistics.openAtZero = share(openZero, open);
    statistics.openAtMost = share(openMost, open);
    statistics.openNotFinite = share(openOdd, open);
    statistics.opaqueWithoutDepth = share(opaqueEmpty, opaque);
}

} // namespace

double DepthStatistics::quantum() const noexcept
{
    const double span = std::max(p99 - p1, 1e-12);
    if (levels > 0) return 1.0 / levels / span;
    return std::max(std::abs(p99), std::abs(p1)) * std::ldexp(1.0, -significantBits) / span;
}

DepthStatistics statisticsOf(const Plane<float>& stored, const Plane<float>* alpha)
{
    DepthStatistics s;
    s.pixels = stored.size();
    s.hasAlpha = alpha != nullptr;
    bool any = false;
    for (const float v : stored.pixels()) {
        if (std::isnan(v)) {
            ++s.nans;
        } else if (std::isinf(v)) {
            ++s.infinites;
        } else if (v == 0.0F) {
            ++s.zeros;
        } else {
            if (v < 0.0F) ++s.negatives;
            s.least = any ? std::min<double>(s.least, v) : v;
            s.most = any ? std::max<double>(s.most, v) : v;
            any = true;
        }
    }
    const auto atMost = static_cast<std::size_t>(
        std::count(stored.pixels().begin(), stored.pixels().end(), static_cast<float>(s.most)));
    if (any) s.shareAtMost = static_cast<double>(atMost) / static_cast<double>(s.pixels);
    s.shareAtZero = static_cast<double>(s.zeros) / static_cast<double>(std::max<std::size_t>(1, s.pixels));
    // A number that stands for nothing would drown those of surfaces.
    constexpr double kFiller = 0.003;
    std::vector<float> sample = sortedSample(stored, 100'000, s.shareAtMost > kFiller ? s.most : 0.0);
    if (sample.size() < 3) sample = sortedSample(stored, 100'000, 0.0);
    s.p1 = percentile(sample, 0.01);
    s.p5 = percentile(sample, 0.05);
    s.p50 = percentile(sample, 0.50);
    s.p95 = percentile(sample, 0.95);
    s.p99 = percentile(sample, 0.99);
    s.levels = levelsOf(sample);
    s.significantBits = significantBitsOf(sample);
    s.distinct = static_cast<std::size_t>(std::unique(sample.begin(), sample.end()) - sample.begin());
    countEdges(stored, s);
    s.noise = noiseOf(stored);
    if (alpha) relateToAlpha(stored, *alpha, s);
    return s;
}

} // namespace retinex::depth
