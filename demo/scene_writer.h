#pragma once

#include "reference/tracer.h"

#include <filesystem>
#include <string>
#include <vector>

/// Writes the cameras and named points of a rendered sequence as glTF 2.0 (Khronos Group, "glTF 2.0
/// Specification"), as the exporter of a modelling program would.
namespace retinex::demo {

/// The camera of one shot: one for each frame.
struct ShotCamera
{
    std::string name;
    int firstFrame = 1;
    std::vector<reference::Camera> frames;
};

struct ScenePoint
{
    std::string name;
    reference::Vec position; ///< stands still, metres
};

/// Time 0 is frame `frameAtZero`. Throws std::runtime_error when the file cannot be written.
void writeScene(const std::filesystem::path& file, const std::vector<ShotCamera>& cameras, int frameAtZero,
                double framesPerSecond, const std::vector<ScenePoint>& points);

} // namespace retinex::demo
