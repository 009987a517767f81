#pragma once

#include "core/system/words.h"
#include <optional>
#include <string>
#include <string_view>

/// Units of distance. A scene is in scene units; the *scene scale* says how many metres one of them is.
namespace retinex::optics {

enum class Unit { metre, centimetre, millimetre, foot, inch };

[[nodiscard]] double metresPer(Unit unit) noexcept;
[[nodiscard]] std::string_view symbol(Unit unit) noexcept; ///< "m", "cm", "mm", "ft", "in"
[[nodiscard]] std::optional<Unit> unitFromSymbol(std::string_view text) noexcept;

/// Reads a distance as people write it: "3.42", "340cm", "3,4 m", "11ft 2in", "inf". A bare number is in
/// `bare`. Returns metres; nothing for text that is not a distance.
[[nodiscard]] std::optional<double> parseDistanceMetres(std::string_view text, Unit bare);

/// "3.42 m", "11.2 ft", "∞": about four digits, in the given unit.
[[nodiscard]] std::string formatDistance(double metres, Unit unit);

} // namespace retinex::optics

namespace retinex {

template <>
inline constexpr std::array<std::string_view, 5> kWords<optics::Unit>{"m", "cm", "mm", "ft", "in"};

} // namespace retinex
