#pragma once

#include <filesystem>
#include <string>

/// Before text of others is given to a parser of JSON.
namespace retinex {

/// Lists and sections within each other at most: parsers and what is done with their result call themselves.
constexpr int kDeepestJson = 100;

/// The text of a file. Throws Error when it cannot be read, or has more lists and sections within each other
/// than kDeepestJson.
[[nodiscard]] std::string readJsonText(const std::filesystem::path& file);

/// The deepest level of lists and sections; what stands between quotes does not count.
[[nodiscard]] int depthOfJson(std::string_view text) noexcept;

} // namespace retinex
