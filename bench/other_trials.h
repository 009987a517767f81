#pragma once

#include "bench/others.h"
#include "core/defocus/defocus.h"

/// Pictures through the lens of another renderer, of scenes of another hand: all that ours is to be.
namespace retinex::bench {

struct OtherTrial
{
    RgbaImage colour;
    Plane<float> distance; ///< planar, scene units; +inf where nothing is
    defocus::LensSettings settings;
    RgbaImage truth;
};

/// Renders or reads the passes and the picture of a scene that has a lens. Throws as otherPasses() does.
[[nodiscard]] OtherTrial otherTrial(const OtherScene& scene, int width, int samples,
                                    const std::filesystem::path& cache);

} // namespace retinex::bench
