#pragma once

#include "core/image/image.h"
#include "core/system/run.h"

#include <cstddef>
#include <numeric>
#include <optional>
#include <vector>

namespace retinex {

/// A picture with any number of samples a pixel.
template <class SampleOfPixel>
struct PixelSamples
{
    using Sample = SampleOfPixel;

    int width = 0;
    int height = 0;
    /// Pixel i (row after row) has the samples first[i] to first[i + 1]; width * height + 1 long.
    std::vector<std::size_t> first;
    std::vector<Sample> samples;

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
template <class Sample>
[[nodiscard]] Plane<int> pixelNumbers(const PixelSamples<Sample>& picture)
{
    Plane<int> numbers(picture.width, picture.height);
    std::iota(numbers.pixels().begin(), numbers.pixels().end(), 0);
    return numbers;
}

/// In place of a pixel's number: a pixel without samples.
inline constexpr int kNoPixel = -1;

/// A picture made of the pixels with these numbers, each with all of its samples.
template <class Sample>
[[nodiscard]] PixelSamples<Sample> madeOf(const PixelSamples<Sample>& picture, const Plane<int>& numbers,
                                          const Run& run)
{
    PixelSamples<Sample> result;
    result.width = numbers.width();
    result.height = numbers.height();
    result.first.reserve(numbers.size() + 1);
    result.first.push_back(0);
    for (int y = 0; y < numbers.height(); ++y) {
        run.throwIfStopped();
        for (int x = 0; x < numbers.width(); ++x) {
            if (numbers.at(x, y) != kNoPixel) {
                const auto pixel = static_cast<std::size_t>(numbers.at(x, y));
                for (std::size_t sample = picture.first[pixel]; sample < picture.first[pixel + 1]; ++sample)
                    result.samples.push_back(picture.samples[sample]);
            }
            result.first.push_back(result.samples.size());
        }
    }
    return result;
}

/// A picture made of the pixels that `change` makes of the plane of pixel numbers; nothing of nothing.
template <class Sample, class Change>
[[nodiscard]] std::optional<PixelSamples<Sample>> transformed(const PixelSamples<Sample>* picture,
                                                              const Run& run, Change change)
{
    if (!picture) return std::nullopt;
    return madeOf(*picture, change(pixelNumbers(*picture)), run);
}

} // namespace retinex
