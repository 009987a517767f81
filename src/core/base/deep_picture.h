#pragma once

#include "core/base/image.h"
#include "core/base/run.h"

#include <array>
#include <cstddef>
#include <numeric>
#include <vector>

namespace retinex {

/// A picture with several samples a pixel, each a surface of its own. What a sample shows is its colour times
/// the transparency of those in front of it ("over").
struct DeepPicture
{
    struct Sample
    {
        std::array<float, 4> colour{}; ///< R, G, B, A: scene-linear, premultiplied by its own alpha
        float depth = 0.0F; ///< as stored, or distance (scene units, +inf for none): the owner says
    };

    int width = 0;
    int height = 0;
    /// Pixel i (row after row) has the samples first[i] to first[i + 1]; width * height + 1 long.
    std::vector<std::size_t> first;
    std::vector<Sample> samples; ///< of a pixel front to back

    [[nodiscard]] std::size_t firstOf(int x, int y) const noexcept
    {
        return first[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) +
                     static_cast<std::size_t>(x)];
    }
    [[nodiscard]] std::size_t endOf(int x, int y) const noexcept
    {
        return first[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) +
                     static_cast<std::size_t>(x) + 1];
    }
};

/// The number of each pixel, row after row.
[[nodiscard]] inline Plane<int> pixelNumbers(const DeepPicture& deep)
{
    Plane<int> numbers(deep.width, deep.height);
    std::iota(numbers.pixels().begin(), numbers.pixels().end(), 0);
    return numbers;
}

/// A picture made of the pixels with these numbers, each with all of its samples.
[[nodiscard]] inline DeepPicture madeOf(const DeepPicture& deep, const Plane<int>& numbers, const Run& run)
{
    DeepPicture result;
    result.width = numbers.width();
    result.height = numbers.height();
    result.first.push_back(0);
    for (int y = 0; y < numbers.height(); ++y) {
        run.throwIfStopped();
        for (int x = 0; x < numbers.width(); ++x) {
            const auto pixel = static_cast<std::size_t>(numbers.at(x, y));
            for (std::size_t sample = deep.first[pixel]; sample < deep.first[pixel + 1]; ++sample)
                result.samples.push_back(deep.samples[sample]);
            result.first.push_back(result.samples.size());
        }
    }
    return result;
}

} // namespace retinex
