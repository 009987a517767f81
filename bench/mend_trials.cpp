#include "bench/mend_trials.h"

#include "bench/reading_scenes.h"
#include "core/depth/conditioning.h"
#include "core/depth/direction_check.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace retinex::bench {

namespace {

/// Of n x n rays, gaps counted as 0.
Plane<float> meanOf(const Plane<float>& fine, int n)
{
    Plane<float> mean(fine.width() / n, fine.height() / n);
    for (int y = 0; y < n * mean.height(); ++y)
        for (int x = 0; x < n * mean.width(); ++x)
            mean.at(x / n, y / n) += fine.at(x, y) / static_cast<float>(n * n);
    return mean;
}

} // namespace

MendScore mendScore(const std::string& scene, int width)
{
    const ReadingScenePtr traced = tracedScene(scene, false, width);
    MendScore score;
    // Pixels whose 16 rays differ by more than 5 %: there the mean lies on no surface, or by luck.
    const auto onSurface = [&](const Plane<float>& depth, int x, int y) {
        for (int sy = std::max(0, 4 * y - 4); sy < std::min(traced->fine.height(), 4 * y + 8); ++sy)
            for (int sx = std::max(0, 4 * x - 4); sx < std::min(traced->fine.width(), 4 * x + 8); ++sx)
                if (std::abs(traced->fine.at(sx, sy) - depth.at(x, y)) <= 0.01F * depth.at(x, y)) return true;
        return false;
    };
    const Plane<float> antiAliased = meanOf(traced->fine, traced->fineness);
    const Plane<float> snapped = depth::snapped(antiAliased);
    std::size_t edges = 0;
    std::size_t before = 0;
    std::size_t after = 0;
    for (int y = 0; y < snapped.height(); ++y)
        for (int x = 0; x < snapped.width(); ++x) {
            float low = traced->fine.at(4 * x, 4 * y);
            float high = low;
            for (int i = 0; i < 16; ++i) {
                const float d = traced->fine.at(4 * x + i % 4, 4 * y + i / 4);
                low = std::min(low, d);
                high = std::max(high, d);
            }
            if (high - low <= 0.05F * high) continue;
            ++edges;
            before += onSurface(antiAliased, x, y) ? 1 : 0;
            after += onSurface(snapped, x, y) ? 1 : 0;
        }
    score.onSurfaceBefore =
        static_cast<double>(before) / static_cast<double>(std::max<std::size_t>(1, edges));
    score.onSurfaceAfter = static_cast<double>(after) / static_cast<double>(std::max<std::size_t>(1, edges));

    // A grey with its ends a little beyond what is seen, as artists set them.
    const auto n = static_cast<float>(0.95 * traced->nearest);
    const auto f = static_cast<float>(1.05 * traced->farthest);
    Plane<float> exact(traced->distance.width(), traced->distance.height());
    Plane<float> stored = exact;
    Plane<std::uint8_t> gaps(exact.width(), exact.height());
    for (std::size_t i = 0; i < exact.size(); ++i) {
        const float d = traced->distance.pixels()[i];
        gaps.pixels()[i] = d <= 0.0F ? 1 : 0;
        exact.pixels()[i] = d > 0.0F ? (f - d) / (f - n) : 0.0F;
        stored.pixels()[i] = std::round(std::clamp(exact.pixels()[i], 0.0F, 1.0F) * 255.0F) / 255.0F;
    }
    const Plane<float> smooth = depth::smoothedSteps(stored, gaps, 1.0 / 255.0);
    double sumBefore = 0.0;
    double sumAfter = 0.0;
    std::size_t count = 0;
    for (std::size_t i = 0; i < exact.size(); ++i) {
        if (gaps.pixels()[i] != 0) continue;
        ++count;
        sumBefore += std::pow(stored.pixels()[i] - exact.pixels()[i], 2);
        sumAfter += std::pow(smooth.pixels()[i] - exact.pixels()[i], 2);
    }
    score.stepErrorBefore = 255.0 * std::sqrt(sumBefore / static_cast<double>(count));
    score.stepErrorAfter = 255.0 * std::sqrt(sumAfter / static_cast<double>(count));
    return score;
}

DirectionScore printDirectionTable(int width)
{
    DirectionScore score;
    for (const bool heldOut : {false, true}) {
        for (const std::string& scene : readingScenes(heldOut)) {
            Plane<float> distance = tracedScene(scene, heldOut, width)->distance;
            Plane<std::uint8_t> gaps(distance.width(), distance.height());
            float most = 0.0F;
            for (std::size_t i = 0; i < distance.size(); ++i) {
                gaps.pixels()[i] = distance.pixels()[i] <= 0.0F ? 1 : 0;
                most = std::max(most, distance.pixels()[i]);
            }
            const auto right = depth::directionOf(distance, gaps, 1e-7);
            for (float& d : distance.pixels())
                d = 1.05F * most - d;
            const auto wrong = depth::directionOf(distance, gaps, 1e-7);
            ++score.scenes;
            if (right.seemsExchanged()) ++score.falseAlarms;
            if (wrong.seemsExchanged()) ++score.found;
            const auto row = [](const depth::DirectionEvidence& e) {
                return fmt::format(
                    "{:<9} straight {:+.0f} bends {:+.2f} ({:>5}) strips {:+.2f} ({:>4}) ground {:+.2f}",
                    e.seemsExchanged() ? "exchanged" : "-", e.straight, e.bends, e.bendCount, e.strips,
                    e.stripCount, e.ground);
            };
            fmt::print("{:<20} as it is:     {}\n{:<20} turned round: {}\n", scene, row(right), "",
                       row(wrong));
        }
    }
    return score;
}

} // namespace retinex::bench
