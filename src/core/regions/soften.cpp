#include "core/regions/soften.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <vector>

namespace retinex::regions {

namespace {

constexpr float kFar = 1e18F;
constexpr int kStrip = 32; ///< columns that are worked on together

/// Squared distance along a line to the lower envelope of parabolas.
void transformLine(const float* in, float* out, int count, std::vector<int>& places,
                   std::vector<float>& bounds)
{
    places.resize(static_cast<std::size_t>(count));
    bounds.resize(static_cast<std::size_t>(count) + 1);
    int last = -1;
    for (int q = 0; q < count; ++q) {
        if (in[q] >= kFar) continue;
        float meet = -std::numeric_limits<float>::infinity();
        while (last >= 0) {
            const int p = places[static_cast<std::size_t>(last)];
            meet = ((in[q] + static_cast<float>(q) * static_cast<float>(q)) -
                    (in[p] + static_cast<float>(p) * static_cast<float>(p))) /
                   static_cast<float>(2 * (q - p));
            if (meet > bounds[static_cast<std::size_t>(last)]) break;
            --last;
            meet = -std::numeric_limits<float>::infinity();
        }
        ++last;
        places[static_cast<std::size_t>(last)] = q;
        bounds[static_cast<std::size_t>(last)] = meet;
    }
    if (last < 0) {
        std::fill(out, out + count, kFar);
        return;
    }
    int at = 0;
    for (int q = 0; q < count; ++q) {
        while (at < last && bounds[static_cast<std::size_t>(at) + 1] < static_cast<float>(q))
            ++at;
        const auto away = static_cast<float>(q - places[static_cast<std::size_t>(at)]);
        out[q] = away * away + in[places[static_cast<std::size_t>(at)]];
    }
}

/// Distance of each pixel to the nearest one for which `is` holds.
template <class Is>
Plane<float> distanceTo(const Plane<float>& coverage, Is is, const Run& run)
{
    const int width = coverage.width();
    const int height = coverage.height();
    Plane<float> squared(width, height);
    parallelFor((width + kStrip - 1) / kStrip, run, [&](int strip) {
        std::vector<float> in(static_cast<std::size_t>(height));
        std::vector<float> out(in.size());
        std::vector<int> places;
        std::vector<float> bounds;
        for (int x = strip * kStrip; x < std::min(width, (strip + 1) * kStrip); ++x) {
            for (int y = 0; y < height; ++y)
                in[static_cast<std::size_t>(y)] = is(coverage.at(x, y)) ? 0.0F : kFar;
            transformLine(in.data(), out.data(), height, places, bounds);
            for (int y = 0; y < height; ++y)
                squared.at(x, y) = out[static_cast<std::size_t>(y)];
        }
    });
    parallelFor(height, run, [&](int y) {
        std::vector<float> in(squared.row(y), squared.row(y) + width);
        std::vector<int> places;
        std::vector<float> bounds;
        transformLine(in.data(), squared.row(y), width, places, bounds);
        for (int x = 0; x < width; ++x)
            squared.at(x, y) = std::sqrt(squared.at(x, y));
    });
    return squared;
}

/// Mean over `width` values about each one, the two at the ends in piece; beyond the line its ends go on.
/// Each value is `lanes` numbers side by side. `room` is reused.
void boxLines(float* values, int count, int lanes, double width, std::vector<float>& room)
{
    const double half = 0.5 * (width - 1.0);
    const int whole = static_cast<int>(std::floor(half));
    const auto piece = static_cast<float>(half - whole);
    const auto scale = static_cast<float>(1.0 / width);
    // With what goes on at both ends.
    const int border = whole + 1;
    const auto lane = static_cast<std::size_t>(lanes);
    room.resize(static_cast<std::size_t>(count + 2 * border) * lane);
    for (int i = -border; i < count + border; ++i)
        std::copy_n(values + static_cast<std::ptrdiff_t>(std::clamp(i, 0, count - 1)) * lanes, lanes,
                    room.data() + static_cast<std::ptrdiff_t>(i + border) * lanes);
    std::vector<double> sums(lane);
    for (int i = 1; i <= 2 * whole + 1; ++i)
        for (int c = 0; c < lanes; ++c)
            sums[static_cast<std::size_t>(c)] +=
                static_cast<double>(room[static_cast<std::size_t>(i * lanes + c)]);
    for (int i = 0; i < count; ++i) {
        const float* before = room.data() + static_cast<std::ptrdiff_t>(i) * lanes;
        const float* after = room.data() + static_cast<std::ptrdiff_t>(i + 2 * border) * lanes;
        const float* leaves = before + lanes;
        float* out = values + static_cast<std::ptrdiff_t>(i) * lanes;
        for (int c = 0; c < lanes; ++c) {
            double& sum = sums[static_cast<std::size_t>(c)];
            out[c] = scale * (static_cast<float>(sum) + piece * (before[c] + after[c]));
            sum += static_cast<double>(after[c]) - static_cast<double>(leaves[c]);
        }
    }
}

void boxMean(Plane<float>& plane, double width, const Run& run)
{
    if (width <= 1.0) return;
    const int strips = (plane.width() + kStrip - 1) / kStrip;
    parallelFor(plane.height(), run, [&](int y) {
        thread_local std::vector<float> room;
        boxLines(plane.row(y), plane.width(), 1, width, room);
    });
    parallelFor(strips, run, [&](int strip) {
        thread_local std::vector<float> room;
        thread_local std::vector<float> columns;
        const int first = strip * kStrip;
        const int count = std::min(kStrip, plane.width() - first);
        columns.resize(static_cast<std::size_t>(count) * static_cast<std::size_t>(plane.height()));
        for (int y = 0; y < plane.height(); ++y)
            std::copy_n(plane.row(y) + first, count, columns.data() + static_cast<std::ptrdiff_t>(y) * count);
        boxLines(columns.data(), plane.height(), count, width, room);
        for (int y = 0; y < plane.height(); ++y)
            std::copy_n(columns.data() + static_cast<std::ptrdiff_t>(y) * count, count, plane.row(y) + first);
    });
}

} // namespace

void grow(Plane<float>& coverage, double px, const Run& run)
{
    if (px == 0.0 || coverage.empty()) return;
    const auto inside = [](float c) { return c >= 0.5F; };
    const Plane<float> out = distanceTo(coverage, inside, run);
    const Plane<float> in = distanceTo(
        coverage, [&](float c) { return !inside(c); }, run);
    parallelFor(coverage.height(), run, [&](int y) {
        for (int x = 0; x < coverage.width(); ++x) {
            // From the edge, which lies half-way between the pixels on both its sides.
            const float within = inside(coverage.at(x, y)) ? in.at(x, y) - 0.5F : 0.5F - out.at(x, y);
            coverage.at(x, y) = std::clamp(within + static_cast<float>(px) + 0.5F, 0.0F, 1.0F);
        }
    });
}

void feather(Plane<float>& coverage, double px, const Run& run)
{
    for (int pass = 0; pass < 3 && px > 0.0; ++pass)
        boxMean(coverage, std::max(1.0, 0.5 * px), run);
}

void followEdges(Plane<float>& coverage, const Plane<float>& distance, double px, const Run& run)
{
    constexpr float kSteeper = 2.0F; // means of both sides lie closer together than the sides do
    constexpr float kEven = 1e-4F;   // variance of log distance that is no edge: 1 % of the distance
    const int width = coverage.width();
    const int height = coverage.height();
    float farthest = 0.0F;
    for (const float d : distance.pixels())
        if (std::isfinite(d)) farthest = std::max(farthest, d);
    const float beyond = std::log(std::max(farthest, 1e-6F)) + 1.0F;
    Plane<float> guide(width, height);
    Plane<float> product(width, height);
    Plane<float> square(width, height);
    Plane<float> mean = coverage;
    parallelFor(height, run, [&](int y) {
        for (int x = 0; x < width; ++x) {
            const float d = distance.at(x, y);
            const float g = std::isfinite(d) ? std::log(std::max(d, 1e-6F)) : beyond;
            guide.at(x, y) = g;
            product.at(x, y) = g * coverage.at(x, y);
            square.at(x, y) = g * g;
        }
    });
    const double box = 2.0 * std::max(2.0, px) + 1.0;
    Plane<float> guideMean = guide;
    for (Plane<float>* plane : {&mean, &product, &square, &guideMean})
        boxMean(*plane, box, run);
    Plane<float>& slope = product;
    Plane<float>& level = square;
    parallelFor(height, run, [&](int y) {
        for (int x = 0; x < width; ++x) {
            const float m = guideMean.at(x, y);
            const float variance = std::max(0.0F, square.at(x, y) - m * m);
            const float a = (product.at(x, y) - m * mean.at(x, y)) / (variance + kEven);
            slope.at(x, y) = a;
            level.at(x, y) = mean.at(x, y) - a * m;
        }
    });
    boxMean(slope, box, run);
    boxMean(level, box, run);
    parallelFor(height, run, [&](int y) {
        for (int x = 0; x < width; ++x) {
            const float c = coverage.at(x, y);
            // What is wholly in or out within reach stays.
            const float even = slope.at(x, y) * guide.at(x, y) + level.at(x, y);
            const float guided = std::clamp(0.5F + kSteeper * (even - 0.5F), 0.0F, 1.0F);
            const float m = std::clamp(mean.at(x, y), 0.0F, 1.0F);
            coverage.at(x, y) = c + (guided - c) * std::min(1.0F, 16.0F * m * (1.0F - m));
        }
    });
}

} // namespace retinex::regions
