#include "core/timeline/cut_detection.h"

#include <algorithm>
#include <cmath>

namespace retinex::timeline {

namespace {

constexpr double kLeast = 0.06;    ///< less is no cut, however still the frames around it are
constexpr double kStandsOut = 3.5; ///< times the usual change around it
constexpr int kAround = 6;         ///< frames on either side that count as around

float toned(float value)
{
    const float light = std::max(0.F, value);
    return std::pow(light / (1.F + light), 1.F / 2.2F);
}

} // namespace

FrameSketch sketchOf(const RgbaImage& colour)
{
    FrameSketch sketch;
    sketch.fields.assign(static_cast<std::size_t>(3 * FrameSketch::columns * FrameSketch::rows), 0.F);
    sketch.spread.assign(FrameSketch::bins, 0.F);
    std::vector<int> counts(static_cast<std::size_t>(FrameSketch::columns * FrameSketch::rows), 0);
    // A quarter of a million pixels tell enough.
    const int step = std::max(1, static_cast<int>(std::sqrt(colour.width() * 1.0 * colour.height() / 250e3)));
    double seen = 0.0;
    for (int y = step / 2; y < colour.height(); y += step)
        for (int x = step / 2; x < colour.width(); x += step) {
            const auto field =
                static_cast<std::size_t>(y * FrameSketch::rows / colour.height() * FrameSketch::columns +
                                         x * FrameSketch::columns / colour.width());
            ++counts[field];
            float brightness = 0.F;
            for (int c = 0; c < 3; ++c) {
                const float value = toned(colour.plane(c).at(x, y));
                sketch.fields[3 * field + static_cast<std::size_t>(c)] += value;
                brightness += value / 3.F;
            }
            const int bin = std::min(FrameSketch::bins - 1, static_cast<int>(brightness * FrameSketch::bins));
            sketch.spread[static_cast<std::size_t>(bin)] += 1.F;
            seen += 1.0;
        }
    for (std::size_t i = 0; i < sketch.fields.size(); ++i)
        sketch.fields[i] /= static_cast<float>(std::max(1, counts[i / 3]));
    for (float& share : sketch.spread)
        share /= static_cast<float>(std::max(1.0, seen));
    return sketch;
}

double difference(const FrameSketch& a, const FrameSketch& b)
{
    double fields = 0.0;
    for (std::size_t i = 0; i < a.fields.size(); ++i)
        fields += static_cast<double>(std::abs(a.fields[i] - b.fields[i]));
    double spread = 0.0;
    for (std::size_t i = 0; i < a.spread.size(); ++i)
        spread += static_cast<double>(std::abs(a.spread[i] - b.spread[i]));
    // Fields tell where something moved, the spread that it is another picture: a cut changes both.
    return std::sqrt(fields / static_cast<double>(a.fields.size()) * 0.5 * spread);
}

std::vector<int> proposedCuts(const std::vector<std::optional<FrameSketch>>& sketches, int first)
{
    const auto count = static_cast<int>(sketches.size());
    std::vector<double> steps(sketches.size(), 0.0); // from the last frame that is there
    const FrameSketch* last = nullptr;
    for (std::size_t i = 0; i < sketches.size(); ++i) {
        if (!sketches[i]) continue;
        if (last) steps[i] = difference(*last, *sketches[i]);
        last = &*sketches[i];
    }
    std::vector<int> cuts;
    for (int i = 1; i < count; ++i) {
        const double here = steps[static_cast<std::size_t>(i)];
        if (here < kLeast) continue;
        std::vector<double> around;
        for (int k = std::max(1, i - kAround); k <= std::min(count - 1, i + kAround); ++k)
            if (k != i) around.push_back(steps[static_cast<std::size_t>(k)]);
        if (around.empty()) continue;
        const auto middle = around.begin() + static_cast<std::ptrdiff_t>(around.size() / 2);
        std::nth_element(around.begin(), middle, around.end());
        const bool largest =
            std::none_of(around.begin(), around.end(), [&](double v) { return v > 1.5 * here; });
        if (here > kStandsOut * *middle && largest) cuts.push_back(first + i);
    }
    return cuts;
}

} // namespace retinex::timeline
