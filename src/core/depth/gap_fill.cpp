#include "core/depth/gap_fill.h"

#include <algorithm>
#include <array>

namespace retinex::depth {

namespace {

struct Step
{
    int dx;
    int dy;
    float length;
};

/// One pass over the picture, taking over what lies at the steps when that is nearer.
template <class Order>
void sweep(Plane<float>& distance, Plane<float>& away, const std::array<Step, 4>& steps, Order order)
{
    const int width = distance.width();
    const int height = distance.height();
    for (int i = 0; i < height; ++i) {
        const int y = order(i, height);
        for (int j = 0; j < width; ++j) {
            const int x = order(j, width);
            for (const Step& step : steps) {
                if (!distance.contains(x + step.dx, y + step.dy)) continue;
                const float reach = away.at(x + step.dx, y + step.dy) + step.length;
                if (reach >= away.at(x, y)) continue;
                away.at(x, y) = reach;
                distance.at(x, y) = distance.at(x + step.dx, y + step.dy);
            }
        }
    }
}

void fromNeighbours(Plane<float>& distance, const Plane<std::uint8_t>& gaps)
{
    Plane<float> away(distance.width(), distance.height());
    for (std::size_t i = 0; i < away.size(); ++i)
        away.pixels()[i] = gaps.pixels()[i] != 0 ? 1e9F : 0.0F;
    constexpr float diagonal = 1.41421356F;
    sweep(distance, away, {{{-1, 0, 1.0F}, {0, -1, 1.0F}, {-1, -1, diagonal}, {1, -1, diagonal}}},
          [](int i, int) { return i; });
    sweep(distance, away, {{{1, 0, 1.0F}, {0, 1, 1.0F}, {1, 1, diagonal}, {-1, 1, diagonal}}},
          [](int i, int count) { return count - 1 - i; });
}

} // namespace

std::size_t placeGaps(Plane<float>& distance, const Plane<std::uint8_t>& gaps, const GapRules& rules)
{
    const float place = rules.place == GapRules::Place::distance ? static_cast<float>(rules.distance)
                                                                 : std::numeric_limits<float>::infinity();
    std::size_t count = 0;
    for (std::size_t i = 0; i < gaps.size(); ++i) {
        if (gaps.pixels()[i] == 0) continue;
        ++count;
        distance.pixels()[i] = place;
    }
    if (rules.place == GapRules::Place::neighbours && count > 0 && count < gaps.size())
        fromNeighbours(distance, gaps);
    return count;
}

} // namespace retinex::depth
