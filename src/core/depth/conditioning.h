#pragma once

#include "core/image/image.h"
#include "core/system/run.h"

#include <cstdint>
#include <utility>
#include <vector>

/// Mending depth passes. All keep the size, and give the same answer on any number of threads.
namespace retinex::depth {

/// A rise or fall of stored numbers across an edge, along a row, a column or a diagonal: steps all of one
/// sign and each a good part of the whole. `inner` pixels lie strictly between its ends.
struct EdgeRun
{
    float from = 0.0F; ///< where it begins
    float to = 0.0F;   ///< where it ends
    int inner = 0;     ///< 0: a clean edge
};

/// The run through the pixel `at` of a line of `count` numbers `stride` apart; inner is -1 when there is no
/// edge there (the numbers differ by less than 4 %), or when it is wider than filters make one (3 px).
[[nodiscard]] EdgeRun edgeRun(const float* line, int count, std::ptrdiff_t stride, int at);

/// Anti-aliased depth holds mixtures at edges that lie on no surface. Each is given the value of the end of
/// its run that it is nearer to: in a mixture by coverage that is the surface that covers more of the pixel.
[[nodiscard]] Plane<float> snapped(const Plane<float>& stored, const Run& run = {});

/// Numbers stored in equal steps of `step` become smooth within surfaces: each moves by at most half a step,
/// towards the mean of pairs of pixels on both its sides that lie within one and a half steps. Edges stay
/// where they are.
[[nodiscard]] Plane<float> smoothedSteps(const Plane<float>& stored, const Plane<std::uint8_t>& gaps,
                                         double step, const Run& run = {});

/// Softens noise up to about `reachPx` away; neighbours count by how alike their reciprocal distances are
/// (Tomasi and Manduchi, "Bilateral Filtering for Gray and Color Images", ICCV 1998, carried out in widening
/// steps). Infinite distances take no part and stay.
[[nodiscard]] Plane<float> softened(const Plane<float>& distance, double reachPx, const Run& run = {});

/// The curve through `points` (see Conditioning::remap) at a distance.
[[nodiscard]] double remapped(double distance, const std::vector<std::pair<double, double>>& points) noexcept;

} // namespace retinex::depth
