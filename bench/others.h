#pragma once

#include "core/image/image.h"

#include <array>
#include <filesystem>
#include <optional>
#include <string>
#include <vector>

/// Scenes of another hand: example scenes of the renderer POV-Ray (Debian's package povray-examples, by many
/// authors, CC BY-SA 3.0), rendered by it when asked for and not stored here. Their distances come from fog,
/// which no texture changes: POV-Ray 3.7 Reference, 3.4.5.2 "Fog": a surface at distance d along the ray
/// keeps exp(-d / D) of its colour.
namespace retinex::bench {

/// A lens in a scene's camera: where it stands and looks in the scene's own axes, focused at a distance along
/// its axis; scene units.
struct OtherLens
{
    std::array<double, 3> location;
    std::array<double, 3> lookAt;
    double focus;
    double diameter;
};

struct OtherScene
{
    std::string name;
    std::string folder; ///< below the package's examples
    std::string file;
    double fieldOfViewDeg; ///< across the frame's width, at 16:9
    double reach;          ///< a distance that most of it lies within, scene units
    bool heldOut;          ///< not looked at while anything was tuned
    std::optional<OtherLens> lens = {};
    bool lensHeldOut = false; ///< the same, of the picture through that lens
};
[[nodiscard]] const std::vector<OtherScene>& otherScenes();

struct OtherPasses
{
    static constexpr int fineness = 3; ///< rays a pixel, across and down
    RgbaImage colour;                  ///< scene-linear, anti-aliased; no alpha
    Plane<float> fine; ///< distance along the ray, `fineness` times the size; 0 where nothing is
    double fieldOfViewDeg = 0.0;
};

/// Renders a scene, or reads what `cache` holds of it. Throws Error when POV-Ray or its scenes are not there.
[[nodiscard]] OtherPasses otherPasses(const OtherScene& scene, int width, const std::filesystem::path& cache);

/// The scene in direct light alone, whose noise is not that of each picture anew: sharp, and through its
/// lens.
struct OtherLensPictures
{
    RgbaImage sharp; ///< anti-aliased by the renderer's own habit
    RgbaImage blurred;
};
/// Renders them by `samples` rays a pixel, or reads what `cache` holds. The scene must have a lens; throws as
/// otherPasses() does. The renderer's `aperture` is 2.04 diameters of the lens (found by its discs).
[[nodiscard]] OtherLensPictures otherLensPictures(const OtherScene& scene, int width, int samples,
                                                  const std::filesystem::path& cache);

} // namespace retinex::bench
