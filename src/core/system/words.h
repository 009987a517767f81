#pragma once

#include <algorithm>
#include <array>
#include <optional>
#include <string_view>
#include <vector>

namespace retinex {

/// The words of an enumeration's values, in their order, as files, command line and reports have them.
/// Specialised once, beside the enumeration, as a std::array<std::string_view, N>.
template <class Enum>
inline constexpr std::array<std::string_view, 0> kWords{};

template <class Enum>
[[nodiscard]] constexpr std::string_view wordOf(Enum value) noexcept
{
    return kWords<Enum>[static_cast<std::size_t>(value)];
}

template <class Enum>
[[nodiscard]] std::optional<Enum> fromWord(std::string_view word) noexcept
{
    const auto it = std::find(kWords<Enum>.begin(), kWords<Enum>.end(), word);
    if (it == kWords<Enum>.end()) return std::nullopt;
    return static_cast<Enum>(it - kWords<Enum>.begin());
}

template <class Enum>
[[nodiscard]] std::vector<std::string_view> wordsOf()
{
    return {kWords<Enum>.begin(), kWords<Enum>.end()};
}

} // namespace retinex
