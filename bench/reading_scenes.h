#pragma once

#include "bench/others.h"
#include "core/image/image.h"

#include <memory>
#include <string>
#include <vector>

/// What depth passes are made of for trials of readings: distances of scenes, ours (traced) and others'.
namespace retinex::bench {

struct ReadingScene
{
    std::string name;
    bool isOthers = false;
    bool heldOut = false;  ///< not looked at while the proposal was tuned
    Plane<float> distance; ///< planar; 0 where nothing is
    Plane<float> fine;     ///< the same, `fineness` times the size
    int fineness = 1;
    Plane<float> alpha; ///< share of a pixel's rays that hit
    RgbaImage colour;
    double fieldOfViewDeg = 40.0;
    double nearest = 0.0;
    double farthest = 0.0;
};
using ReadingScenePtr = std::shared_ptr<const ReadingScene>;

/// Scenes of the project's own, traced.
[[nodiscard]] const std::vector<std::string>& readingScenes(bool heldOut);
[[nodiscard]] ReadingScenePtr tracedScene(const std::string& name, bool heldOut, int width);
/// A scene of another renderer.
[[nodiscard]] ReadingScenePtr othersScene(const OtherScene& scene, int width,
                                          const std::filesystem::path& cache);
/// What lies in front alone: the largest connected part of the nearer half, nothing around it.
[[nodiscard]] ReadingScenePtr cutOut(const ReadingScene& scene);

} // namespace retinex::bench
