#pragma once

#include "bench/measure.h"

#include <string>
#include <vector>

namespace retinex::bench {

struct ViewsResult
{
    Quality single;      ///< from the frame alone
    Quality views;       ///< with what its neighbours show
    double seen = 0.0;   ///< share of what was guessed that some neighbour shows
    double traced = 0.0; ///< change to the next frame, and departure from it
    double singleDeparts = 0.0;
    double viewsDeparts = 0.0;
    double seconds = 0.0; ///< of looking, and of the lens
    double lensSeconds = 0.0;
};

/// Two frames of a scene before which the camera drifts sideways, each with neighbours 2 and 5 frames before
/// and after it, against the traced lens.
[[nodiscard]] ViewsResult moreViews(const std::string& scene, int width, int samples);

} // namespace retinex::bench
