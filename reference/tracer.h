#pragma once

#include "core/image/deep_picture.h"
#include "core/image/image.h"
#include "core/image/object_shares.h"
#include "core/optics/iris.h"
#include "core/system/run.h"
#include "reference/scene.h"

#include <string>
#include <vector>

/// The project's yardstick: the same scene once through a pinhole, giving the passes, and once through a
/// thin lens, sampled with many rays.
namespace retinex::reference {

struct Camera
{
    Vec eye;
    Vec target;
    float focalLengthMm = 50.F;
    float sensorWidthMm = 36.F;
    int width = 640;
    int height = 360;
};

struct Passes
{
    RgbaImage colour;   ///< box-filtered per pixel, premultiplied, scene-linear; alpha 0 where nothing is
    Plane<float> depth; ///< planar distance of the pixel's centre, not anti-aliased; 0 where nothing is
    std::vector<std::pair<std::string, Plane<float>>> mattes; ///< coverage of each named object
};

/// The mattes together, as the engine takes them; there must be one.
[[nodiscard]] ObjectShares objectsOf(const Passes& passes);

/// `samples` rays a pixel (rounded up to a multiple of 16).
[[nodiscard]] Passes renderPasses(const Scene& scene, const Camera& camera, int samples, const Run& run = {});

/// The same passes deep: the rays of a pixel that hit one object at about one distance (2 %) make a sample; a
/// pixel is "over" of its samples. Depth is planar distance, the mean of the sample's rays.
[[nodiscard]] DeepPicture renderDeep(const Scene& scene, const Camera& camera, int samples,
                                     const Run& run = {});

struct LensSampling
{
    double fStop = 2.0;
    double focusDistance = 2.0; ///< metres, planar
    optics::Iris iris;
    /// A pixel, at least; rounded up to a multiple of 16.
    int samples = 1024;
    int mostRounds = 1; ///< where small lights leave noise, up to so many times as many samples
};

/// The picture through a thin lens whose opening is the iris outline (area pi A^2 / 4): one point of the lens
/// and one of the pixel for each ray.
[[nodiscard]] RgbaImage renderLens(const Scene& scene, const Camera& camera, const LensSampling& sampling,
                                   const Run& run = {});

} // namespace retinex::reference
