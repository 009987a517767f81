#pragma once

#include <algorithm>
#include <cctype>
#include <string>
#include <string_view>

namespace retinex {

/// `text` with its ASCII letters small; others stay as they are.
[[nodiscard]] inline std::string lower(std::string_view text)
{
    std::string result(text);
    std::ranges::transform(result, result.begin(),
                           [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return result;
}

} // namespace retinex
