#pragma once

#include "core/defocus/pixel_colour.h"

#include <algorithm>

namespace retinex::defocus {

/// What the lines through a hidden pixel say of one surface there, summed up by their weights.
struct LineSum
{
    float radius = 0.0F; ///< px
    float weight = 0.0F; ///< 0: no line says anything
    float best = 0.0F;   ///< largest weight of a line
    Colour sum{};
    float squares = 0.0F; ///< of the colours' sizes

    void add(float lineWeight, const Colour& colour)
    {
        weight += lineWeight;
        best = std::max(best, lineWeight);
        for (std::size_t c = 0; c < colour.size(); ++c)
            sum[c] += lineWeight * colour[c];
        squares += lineWeight * distanceSquared(colour, {});
    }

    /// Of several surfaces that may be there, the one with the best line is kept.
    void addBest(float lineRadius, float lineWeight, const Colour& colour)
    {
        if (weight > 0.0F && isEdge(radius, lineRadius)) {
            if (lineWeight <= best) return;
            *this = {};
        }
        radius = lineRadius;
        add(lineWeight, colour);
    }

    [[nodiscard]] Colour mean() const
    {
        Colour colour = sum;
        for (float& v : colour)
            v /= weight;
        return colour;
    }

    /// Variance of what the lines say, in shares of the square of their mean.
    [[nodiscard]] float disagreement() const
    {
        const float size = distanceSquared(mean(), {}) + 1e-8F;
        return std::max(0.0F, squares / weight / size - 1.0F);
    }
};

} // namespace retinex::defocus
