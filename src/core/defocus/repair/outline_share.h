#pragma once

#include "core/defocus/repair/two_surfaces.h"

#include <optional>

namespace retinex::defocus {

/// How much of a pixel is the near surface's, 0 to 1, as a mean and how far it may stray (standard
/// deviation) if the outline is straight.
struct OutlineShare
{
    float share = 0.0F;
    float spread = 0.0F;
};

/// The share that the outline tells which the depths draw: pixels are near or far as a whole, and of all
/// straight lines that part the near ones beside the outline from the far ones, as far on as there are any,
/// the middle one is taken. Nothing for things one pixel thin, for corners, and where the outline runs along
/// the pixels (level, upright, at 45 degrees), so that it may lie anywhere between them. Source: digital
/// straight segments, as in Klette and Rosenfeld, "Digital straightness: a review", Discrete Applied
/// Mathematics 139, 2004.
[[nodiscard]] std::optional<OutlineShare> shareByOutline(const Plane<float>& radius,
                                                         const TwoSurfaces& surfaces, int x, int y);

} // namespace retinex::defocus
