#include "core/image/scene_brightness.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

namespace retinex {

namespace {

/// Of a picture whose brightness at a pixel is brightnessAt(x, y).
template <class Brightness>
double keyOf(int width, int height, Brightness brightnessAt)
{
    constexpr double brightest = 0.05; // share of the pixels
    const int every = std::max(4, width / 480);
    std::vector<float> values;
    for (int row = 0; row * every < height; ++row)
        for (int x = row % every; x < width; x += every) // shifted: upright lines count for what they are
            values.push_back(std::max(0.0F, brightnessAt(x, row * every)));
    if (values.empty()) return 0.0;
    const auto limitAt = values.begin() + static_cast<std::ptrdiff_t>((1.0 - brightest) *
                                                                      static_cast<double>(values.size() - 1));
    std::nth_element(values.begin(), limitAt, values.end());
    const float limit = *limitAt;
    double sum = 0.0;
    double weights = 0.0;
    for (const float value : values) {
        if (value <= 0.0F) continue;
        const double weight = std::sqrt(static_cast<double>(std::min(value, limit)));
        sum += weight * std::log2(static_cast<double>(value));
        weights += weight;
    }
    return weights > 0.0 ? std::exp2(sum / weights) : 0.0;
}

} // namespace

double sceneBrightness(const RgbaImage& colour)
{
    return keyOf(colour.width(), colour.height(), [&](int x, int y) {
        return std::max({colour.plane(0).at(x, y), colour.plane(1).at(x, y), colour.plane(2).at(x, y)});
    });
}

double sceneBrightness(const DeepPicture& deep)
{
    return keyOf(deep.width, deep.height, [&](int x, int y) {
        std::array<float, 4> seen{};
        for (std::size_t i = deep.firstOf(x, y); i < deep.endOf(x, y); ++i) {
            const float open = 1.0F - seen[3];
            for (std::size_t c = 0; c < seen.size(); ++c)
                seen[c] += open * deep.samples[i].colour[c];
        }
        return std::max({seen[0], seen[1], seen[2]});
    });
}

} // namespace retinex
