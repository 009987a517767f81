#pragma once

#include "core/depth/reading_proposal.h"

#include <string>
#include <vector>

/// Depth passes as renderers write them: traced scenes in many conventions, for measuring the proposal of a
/// reading.
namespace retinex::bench {

struct ReadingTrial
{
    std::string scene;
    std::string convention;
    bool heldOut = false; ///< not looked at while the proposal was tuned
    Plane<float> stored;
    Plane<float> alpha; ///< empty: the pass came without
    depth::Reading reading = depth::Reading::distanceFromCameraPlane;
    depth::Spacing spacing = depth::Spacing::distance;

    [[nodiscard]] depth::ReadingProposal propose() const;
    /// Same reading, direction and spacing; clip space and a grey even in 1/distance are one formula.
    [[nodiscard]] bool agrees(const depth::ReadingSettings& settings) const;
};

/// Every convention for every scene of one half, `width` px wide.
[[nodiscard]] std::vector<ReadingTrial> readingTrials(bool heldOut, int width);

struct ReadingScore
{
    int trials = 0;
    int right = 0;
    int unsure = 0; ///< of the others: said to be unsure
    int wrongAndSure = 0;
};

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
[[nodiscard]] const std::vector<std::string>& readingScenes(bool heldOut);

/// Prints for every scene whether its distances, as they are and turned round, seem exchanged; false when one
/// of the answers is wrong where it should be known.
struct DirectionScore
{
    int falseAlarms = 0;
    int found = 0;
    int scenes = 0;
};
DirectionScore printDirectionTable(int width);

/// Prints a row each, and returns the sum.
ReadingScore printReadingTable(bool heldOut, int width, bool onlyWrong);

} // namespace retinex::bench
