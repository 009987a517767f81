#pragma once

#include "core/defocus/surfaces/pixel_colour.h"

#include <algorithm>

namespace retinex::defocus {

/// What the lines through a hidden pixel say of one surface there, summed up by their weights.
struct LineSum
{
    float radius = 0.0F; ///< px
    float weight = 0.0F; ///< 0: no line says anything
    float best = 0.0F;   ///< largest weight of a line
    float sure = 0.0F;   ///< how alike the ends of a line look, at most: 1, entirely
    Colour sum{};

    void add(float lineWeight, const Colour& colour, float alike = 0.0F)
    {
        weight += lineWeight;
        best = std::max(best, lineWeight);
        sure = std::max(sure, alike);
        for (std::size_t c = 0; c < colour.size(); ++c)
            sum[c] += lineWeight * colour[c];
    }

    /// Of several surfaces that may be there, the one with the best line is kept.
    void addBest(float lineRadius, float lineWeight, const Colour& colour, float alike = 0.0F)
    {
        if (weight > 0.0F && isEdge(radius, lineRadius)) {
            if (lineWeight <= best) return;
            *this = {};
        }
        radius = lineRadius;
        add(lineWeight, colour, alike);
    }

    [[nodiscard]] Colour mean() const
    {
        Colour colour = sum;
        for (float& v : colour)
            v /= weight;
        return colour;
    }
};

} // namespace retinex::defocus
