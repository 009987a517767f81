#pragma once

#include <cstdint>
#include <fmt/format.h>
#include <string>
#include <string_view>

namespace retinex {

/// FNV-1a, 64 bits (Fowler, Noll, Vo; draft-eastlake-fnv).
[[nodiscard]] inline std::uint64_t hashOf(std::string_view bytes) noexcept
{
    std::uint64_t hash = 0xcbf29ce484222325U;
    for (const char c : bytes)
        hash = (hash ^ static_cast<unsigned char>(c)) * 0x100000001b3U;
    return hash;
}

/// The same as 16 hexadecimal digits.
[[nodiscard]] inline std::string hashText(std::string_view bytes)
{
    return fmt::format("{:016x}", hashOf(bytes));
}

} // namespace retinex
