#pragma once

#include "core/base/image.h"
#include "core/base/run.h"
#include "core/optics/iris.h"
#include "core/optics/thin_lens.h"

/// The lens engine: a sharp picture and its distances in, the picture through the lens out.
///
/// Light is spread, not averaged: each pixel's light is divided over its disc. Pixels are sorted onto a fixed
/// ladder of radii (slices), each slice is spread with its iris, and slices are gathered front to back with a
/// coverage budget: a slice adds min(its coverage, what is left). What lies in front of the focal plane goes
/// over what lies from it back, whose holes are filled first. Reasons and figures: docs/engine.md.
namespace retinex::defocus {

/// What lies beyond the picture. *continue*: more of what is at its edge; *open*: nothing.
enum class FrameEdge { continuePicture, open };

struct LensSettings
{
    optics::ThinLens lens;
    double sensorWidthMm = 36.0; ///< of the full frame's width
    double frameWidthPx = 0.0; ///< width of the full frame where the picture is larger (overscan); 0: as wide
    double millimetresPerUnit = 1000.0; ///< scene scale: mm in one scene unit of distance
    optics::Iris iris;
    FrameEdge frameEdge = FrameEdge::continuePicture;
    double blurLimitPx = 500.0; ///< largest radius; larger ones are held at it
    double pixelAspect = 1.0;   ///< width of a pixel divided by its height

    /// Throws Error naming the setting that is out of range.
    void check() const;
};

/// Signed radius (half the CoC) of each pixel, in px of the picture's height unit; negative in front of the
/// focal plane. `distance` is in scene units, +inf for gaps. Radii are held at the blur limit.
[[nodiscard]] Plane<float> blurRadiusPx(const Plane<float>& distance, const LensSettings& settings,
                                        const Run& run = {});

/// The picture through the lens. `colour` is scene-linear, premultiplied and finite; `distance` has the same
/// size. The same request gives the same pixels on one thread or many. Throws Cancelled when stopped.
///
/// A uniform picture stays uniform to 1e-5; the sum of a blurred point equals the point (frame edges aside).
[[nodiscard]] RgbaImage defocus(const RgbaImage& colour, const Plane<float>& distance,
                                const LensSettings& settings, const Run& run = {});

} // namespace retinex::defocus
