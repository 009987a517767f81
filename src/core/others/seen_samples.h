#pragma once

#include "core/defocus/surfaces/pixel_colour.h"
#include "core/others/look_behind.h"

#include <array>
#include <cstdint>
#include <vector>

namespace retinex::others {

/// Whether colours of one point seen twice differ by more than light and noise explain.
[[nodiscard]] inline bool differ(const defocus::Colour& a, const defocus::Colour& b)
{
    return defocus::coloursDiffer(a, b, 0.3F, 1e-3F);
}

/// A neighbour's pixel, as it falls onto one of the frame's, behind what is visible there.
struct Sample
{
    std::uint32_t x = 0;
    std::uint32_t from = 0; ///< its number in the neighbour, row by row
    float weight = 0.0F;
    float radius = 0.0F; ///< px
    float distance = 0.0F;
    std::uint8_t view = 0;
};
struct PlacedSample
{
    Sample sample;
    int y = 0;
};

/// All that fell behind a frame's visible surfaces, by its rows.
class SeenSamples
{
public:
    SeenSamples(int width, int height) : m_width(width), m_rows(static_cast<std::size_t>(height)) {}

    /// From one neighbour, whose light goes by `gain`; in the order they are given. The view must outlive
    /// this.
    void add(const View& view, const std::array<float, 3>& gain,
             const std::vector<std::vector<PlacedSample>>& rows);
    /// At each pixel the nearest surface of which enough was seen and on which neighbours agree; null where
    /// there is none at all.
    [[nodiscard]] SeenBehindPtr settled(const Run& run) const;

private:
    struct From
    {
        const View* view;
        std::array<float, 3> gain;
    };
    [[nodiscard]] defocus::Colour colourOf(const Sample& sample) const;
    void settle(int y, std::span<const Sample*> samples, SeenBehind& seen) const;

    int m_width;
    std::vector<std::vector<Sample>> m_rows;
    std::vector<From> m_views;
};

} // namespace retinex::others
