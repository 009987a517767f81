#include "core/optics/units.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <charconv>
#include <cmath>
#include <fmt/format.h>
#include <limits>

namespace retinex::optics {

namespace {

// In the order of Unit. The foot and the inch are exact by the international yard and pound agreement of
// 1959.
constexpr std::array<double, 5> kMetres{1.0, 0.01, 0.001, 0.3048, 0.0254};

std::string_view trimmed(std::string_view text)
{
    while (!text.empty() && std::isspace(static_cast<unsigned char>(text.front())))
        text.remove_prefix(1);
    while (!text.empty() && std::isspace(static_cast<unsigned char>(text.back())))
        text.remove_suffix(1);
    return text;
}

/// Takes a leading number (decimal point or comma) off `text`.
std::optional<double> takeNumber(std::string_view& text)
{
    text = trimmed(text);
    std::string plain(text);
    std::replace(plain.begin(), plain.end(), ',', '.');
    double value = 0.0;
    const auto [end, error] = std::from_chars(plain.data(), plain.data() + plain.size(), value);
    if (error != std::errc{} || !std::isfinite(value)) return std::nullopt;
    text.remove_prefix(static_cast<std::size_t>(end - plain.data()));
    text = trimmed(text);
    return value;
}

/// Takes a leading unit word (letters, or ' for feet and " for inches) off `text`; `bare` where none stands.
std::optional<Unit> takeUnit(std::string_view& text, Unit bare)
{
    if (text.empty()) return bare;
    std::size_t length = 0;
    if (text.front() == '\'' || text.front() == '"') {
        const Unit unit = text.front() == '\'' ? Unit::foot : Unit::inch;
        text.remove_prefix(1);
        return unit;
    }
    while (length < text.size() && std::isalpha(static_cast<unsigned char>(text[length])))
        ++length;
    const auto unit = unitFromSymbol(text.substr(0, length));
    text.remove_prefix(length);
    return unit;
}

} // namespace

double metresPer(Unit unit) noexcept
{
    return kMetres[static_cast<std::size_t>(unit)];
}

std::string_view symbol(Unit unit) noexcept
{
    return wordOf(unit);
}

std::optional<Unit> unitFromSymbol(std::string_view text) noexcept
{
    return fromWord<Unit>(text);
}

std::optional<double> parseDistanceMetres(std::string_view text, Unit bare)
{
    text = trimmed(text);
    if (text == "inf" || text == "∞") return std::numeric_limits<double>::infinity();
    double metres = 0.0;
    for (int part = 0; part < 2 && (part == 0 || !text.empty()); ++part) {
        const auto number = takeNumber(text);
        if (!number) return std::nullopt;
        const auto unit = takeUnit(text, bare);
        if (!unit) return std::nullopt;
        metres += *number * metresPer(*unit);
        text = trimmed(text);
    }
    if (!text.empty() || metres < 0.0) return std::nullopt;
    return metres;
}

std::string formatDistance(double metres, Unit unit)
{
    if (std::isinf(metres)) return "∞";
    const double value = metres / metresPer(unit);
    const double magnitude = std::abs(value);
    const int decimals = magnitude >= 1000.0 ? 0 : magnitude >= 100.0 ? 1 : magnitude >= 1.0 ? 2 : 3;
    return fmt::format("{:.{}f} {}", value, decimals, symbol(unit));
}

} // namespace retinex::optics
