#include "core/optics/two_positions.h"

#include <charconv>
#include <cmath>
#include <vector>

namespace retinex::optics {

std::optional<Position> parsePosition(std::string_view text)
{
    std::vector<double> numbers;
    const char* at = text.data();
    const char* const end = at + text.size();
    while (at != end) {
        const bool begins = (*at >= '0' && *at <= '9') || *at == '-' || *at == '+' || *at == '.';
        if (!begins) {
            ++at;
            continue;
        }
        const char* from = *at == '+' ? at + 1 : at;
        double value = 0.0;
        const auto [next, failure] = std::from_chars(from, end, value);
        if (failure != std::errc{}) {
            ++at;
            continue;
        }
        if (!std::isfinite(value)) return std::nullopt;
        numbers.push_back(value);
        at = next;
    }
    if (numbers.size() != 3) return std::nullopt;
    return Position{numbers[0], numbers[1], numbers[2]};
}

double distanceAlongAxis(const Position& camera, const Position& object, const Position& direction) noexcept
{
    double along = 0.0;
    double length = 0.0;
    for (std::size_t i = 0; i < 3; ++i) {
        along += (object[i] - camera[i]) * direction[i];
        length += direction[i] * direction[i];
    }
    return along / std::sqrt(length);
}

} // namespace retinex::optics
