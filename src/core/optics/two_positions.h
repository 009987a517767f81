#pragma once

#include <array>
#include <optional>
#include <string_view>

/// Focus distance for those who know where camera and object stand in the scene.
namespace retinex::optics {

using Position = std::array<double, 3>;

/// Three numbers out of what people copy from other programs: "1.2, 0.4, -3", "(1.2 0.4 -3)", "x: 1.2 y: 0.4
/// z: -3". Nothing when there are not exactly three finite ones.
[[nodiscard]] std::optional<Position> parsePosition(std::string_view text);

/// Distance of `object` from the plane through `camera` that is square to `direction` (any length above 0):
/// the part of the way that runs along the view axis, which is what a lens is focused by. Negative behind the
/// camera; NaN where the direction has no length.
[[nodiscard]] double distanceAlongAxis(const Position& camera, const Position& object,
                                       const Position& direction) noexcept;

} // namespace retinex::optics
