#pragma once

#include "core/image/image.h"

#include <vector>

/// Two trials of what a single picture does not show: how sharpness goes over into blur, and what
/// neighbouring frames do.
namespace retinex::bench {

/// Contrast left at one signed radius: the root mean square of differences between neighbours up and down.
struct Sharpness
{
    double radiusPx = 0.0; ///< middle of the bin
    double ours = 0.0;
    double traced = 0.0;
};

/// A board with fine speckles, tilted through the focal plane about a vertical line, from `-mostPx` to
/// `mostPx` of radius across the frame, in `bins` bins.
[[nodiscard]] std::vector<Sharpness> tiltedPlane(int width, int samples, double mostPx, int bins);

/// Frames of the demo's drifting camera: how far the change from frame to frame departs from the traced one,
/// root mean square on x / (1 + x) then to the power 1/2.2.
struct Drift
{
    double traced = 0.0; ///< the traced change itself
    double ours = 0.0;   ///< departure of ours from it
    double gather = 0.0;
    double fft = 0.0;
    double probe = 0.0;
};
[[nodiscard]] Drift driftingCamera(int width, int samples, int frames);

} // namespace retinex::bench
