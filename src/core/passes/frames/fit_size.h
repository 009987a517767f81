#pragma once

#include "core/image/image.h"
#include "core/system/words.h"

#include <optional>
#include <string>
#include <string_view>

namespace retinex::passes {

/// How a depth pass of another size than the colour pass is brought to its size.
enum class SizeFit {
    scale, ///< each value stands for the pixels nearest to it
    centre ///< pixel for pixel around the middle; what is missing is a gap, what is too much is cut
};

/// Values are taken over, never blended: a mean of two distances is a place where nothing is.
[[nodiscard]] Plane<float> fitted(const Plane<float>& plane, int width, int height, SizeFit fit,
                                  float outside);

} // namespace retinex::passes

namespace retinex {

template <>
inline constexpr std::array<std::string_view, 2> kWords<passes::SizeFit>{"scale", "centre"};

} // namespace retinex
