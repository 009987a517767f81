#pragma once

#include "core/base/image.h"

#include <optional>
#include <string>
#include <string_view>

namespace retinex::passes {

/// How a depth pass of another size than the colour pass is brought to its size.
enum class SizeFit {
    scale, ///< each value stands for the pixels nearest to it
    centre ///< pixel for pixel around the middle; what is missing is a gap, what is too much is cut
};
[[nodiscard]] std::string_view name(SizeFit fit) noexcept; ///< "scale", "centre"
[[nodiscard]] std::optional<SizeFit> sizeFitFromName(std::string_view text) noexcept;

/// Values are taken over, never blended: a mean of two distances is a place where nothing is.
[[nodiscard]] Plane<float> fitted(const Plane<float>& plane, int width, int height, SizeFit fit,
                                  float outside);

} // namespace retinex::passes
