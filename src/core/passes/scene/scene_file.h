#pragma once

#include <ImathMatrix.h>
#include <array>
#include <filesystem>
#include <memory>
#include <optional>
#include <string>
#include <vector>

/// Cameras and named points, with their animation, from a glTF 2.0 file (.gltf or .glb; Khronos Group,
/// "glTF 2.0 Specification"). Only these are taken: no meshes, no materials.
namespace retinex::passes {

class SceneFile
{
public:
    /// Throws Error naming the file when it is not glTF 2.0 or when an index, a length or a number in it is
    /// wrong.
    [[nodiscard]] static SceneFile load(const std::filesystem::path& file);

    struct Named
    {
        std::string name; ///< never empty: "node 3" where the file gives none
        int node = 0;
    };
    /// Nodes with a perspective camera.
    [[nodiscard]] const std::vector<Named>& cameras() const noexcept;
    /// All other nodes; their origins are points to focus on.
    [[nodiscard]] const std::vector<Named>& points() const noexcept;
    /// The node of that name among cameras or points. Throws Error listing what there is.
    [[nodiscard]] int cameraNamed(const std::string& name) const;
    [[nodiscard]] int pointNamed(const std::string& name) const;

    /// Where a node's origin is in the world, at a time in seconds; held before the first and after the last
    /// key.
    [[nodiscard]] std::array<double, 3> position(int node, double seconds) const;
    /// Distance of a point from the camera's plane, along its view axis (glTF: a camera looks along its -z);
    /// negative behind it.
    [[nodiscard]] double planarDistance(int cameraNode, int pointNode, double seconds) const;
    /// Where the camera sees a point: shares of the picture's width and height from the upper left corner,
    /// 0..1 inside. Nothing for a point that is not in front of the camera.
    [[nodiscard]] std::optional<std::array<double, 2>> seenAt(int cameraNode, int pointNode, double seconds,
                                                              double aspect) const;
    /// From the world to a camera, left-handed with z along the view, as `worldToCamera` of EXR headers;
    /// scales of the camera and its parents left out.
    [[nodiscard]] Imath::M44d worldToCamera(int cameraNode, double seconds) const;
    /// Field of view across the width, degrees. `aspect` is width / height of the picture, for cameras that
    /// give none of their own.
    [[nodiscard]] double fieldOfViewDeg(int cameraNode, double aspect) const;
    /// Last time that something moves at; 0 for a scene that stands still.
    [[nodiscard]] double duration() const noexcept;

private:
    struct Data;
    std::shared_ptr<const Data> m_data;
};

} // namespace retinex::passes
