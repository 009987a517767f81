#pragma once

#include "bench/measure.h"

#include <filesystem>
#include <string>
#include <vector>

namespace retinex::bench {

/// A scene of the tracer before which the camera drifts.
struct ViewScene
{
    std::string name;      ///< of a trial
    bool isUnseen = false; ///< made after tuning ended
    float drift = 0.008F;  ///< metres a frame
    int demoFrame = 0;     ///< of the demo's own sequence, which moves by itself; 0: none
};
[[nodiscard]] const std::vector<ViewScene>& viewScenes();

struct ViewsAsked
{
    int width = 640;
    int samples = 128;
    bool limits = false;
    std::filesystem::path crops; ///< folder; empty: none
};

struct ViewsResult
{
    Quality single;     ///< from the frame alone
    Quality views;      ///< with what its neighbours show
    Quality singleRays; ///< the look through each point of the lens (lens_rays.h), where asked for
    Quality viewsRays;
    std::vector<int> steps; ///< to the frames that were looked at, on either side
    double seen = 0.0;      ///< share of what was guessed that some neighbour shows
    double traced = 0.0;    ///< change to the next frame, and departure from it
    double singleDeparts = 0.0;
    double viewsDeparts = 0.0;
    double seconds = 0.0; ///< of looking, and of the lens
    double lensSeconds = 0.0;
};

/// Two frames of a scene, each with its neighbours, against the traced lens. With a folder for crops: the
/// worst place single, with neighbours and traced, and the same place over four frames.
[[nodiscard]] ViewsResult moreViews(const ViewScene& scene, const ViewsAsked& asked);

} // namespace retinex::bench
