#pragma once

#include <string>

/// How well depth passes are mended, and whether near and far exchanged is noticed, on traced scenes.
namespace retinex::bench {

/// How well anti-aliased depth is snapped and 8-bit steps are smoothed.
struct MendScore
{
    double onSurfaceBefore =
        0.0; ///< of the pixels at edges: the distance lies within 1 % of a surface of the pixel
    double onSurfaceAfter = 0.0;  ///< or of its neighbours, as traced with 16 rays a pixel
    double stepErrorBefore = 0.0; ///< root mean square, in grey levels, within surfaces
    double stepErrorAfter = 0.0;
};
[[nodiscard]] MendScore mendScore(const std::string& scene, int width);

/// Prints for every scene whether its distances, as they are and turned round, seem exchanged; false when one
/// of the answers is wrong where it should be known.
struct DirectionScore
{
    int falseAlarms = 0;
    int found = 0;
    int scenes = 0;
};
DirectionScore printDirectionTable(int width);

} // namespace retinex::bench
