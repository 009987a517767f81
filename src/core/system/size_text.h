#pragma once

#include <fmt/format.h>
#include <string>

namespace retinex {

/// "4.8 GB", "52 MB", "3 kB": in the unit, of 1000, that leaves a number to be read.
[[nodiscard]] inline std::string sizeText(double bytes)
{
    if (bytes >= 0.95e9) return fmt::format("{:.1f} GB", bytes / 1e9);
    if (bytes >= 0.95e6) return fmt::format("{:.0f} MB", bytes / 1e6);
    return fmt::format("{:.0f} kB", bytes / 1e3);
}

} // namespace retinex
