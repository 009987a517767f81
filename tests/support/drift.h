#pragma once

#include "core/image/motion_vectors.h"
#include "core/others/look_behind.h"
#include "core/passes/exr/exr_write.h"
#include "core/project/project.h"
#include "reference/camera_header.h"
#include "reference/scenes.h"

#include <filesystem>

/// Frames of the tracer's scenes from a camera that drifts sideways.
namespace retinex::test {

constexpr int kDriftWidth = 400;
constexpr int kDriftHeight = 225;
constexpr float kDrift = 0.008F; ///< metres a frame

struct Frame
{
    reference::Camera camera;
    RgbaImage colour;
    Plane<float> distance;

    [[nodiscard]] others::View view(const std::optional<others::FrameCamera>& other = {}) const;
};

/// Frame 0 is the scene's own camera.
[[nodiscard]] Frame frameOf(const reference::Scene& scene, reference::Camera camera, int frame);

/// As an EXR file with distances in Z and, where given, motion vectors.
void writeFrame(const std::filesystem::path& file, const Frame& frame, const passes::HeaderPtr& header,
                const MotionVectors* vectors = nullptr);

/// Where each pixel's point is in another frame, px from where it is, x to the right and y down.
[[nodiscard]] MotionVectors vectorsTo(const Frame& frame, const Frame& other);

/// A project of files written so, seen by the lens of the scene they are of.
[[nodiscard]] std::shared_ptr<project::Project> projectOf(const passes::PassSource& source,
                                                          const reference::Trial& trial);

} // namespace retinex::test
