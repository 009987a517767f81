#pragma once

#include "core/defocus/lens/blur_radius.h"
#include "core/defocus/lens_input.h"
#include "core/optics/iris.h"
#include "core/system/words.h"

/// The lens engine: a sharp picture and its distances in, the picture through the lens out.
///
/// Light is spread, not averaged: each pixel's light is divided over its disc. Pixels are sorted onto a fixed
/// ladder of radii (slices), each slice is spread with its iris, and slices are gathered front to back with a
/// coverage budget: a slice adds min(its coverage, what is left). What lies in front of the focal plane goes
/// over what lies from it back, whose holes are filled first. Reasons and figures: docs/engine.md.
namespace retinex::defocus {

/// What lies beyond the picture. *continue*: more of what is at its edge; *mirror*: the picture turned over;
/// *open*: nothing.
enum class FrameEdge { continuePicture, mirror, open };

/// Very bright points become bokeh discs. What is brighter than `level` is raised by `liftStops` before it is
/// spread, its colour kept: a clipped render still shows bright discs. From `level` the lift grows smoothly,
/// it is whole at 1.25 times it, so that nothing pops.
struct GlintSettings
{
    double level = 0.8; ///< scene-linear: the largest of R, G and B
    double liftStops = 0.0;

    friend bool operator==(const GlintSettings&, const GlintSettings&) = default;
};

/// Where the frame lies within the picture, px; width 0: the picture is the frame. With overscan it is
/// smaller.
struct FramePlace
{
    int left = 0;
    int top = 0;
    int width = 0;
    int height = 0;
};

struct Surfaces;

struct LensSettings
{
    optics::ThinLens lens;
    std::optional<SimpleLens> simpleLens; ///< replaces the thin lens's blur where set
    BlurControls blur;
    double sensorWidthMm = 36.0; ///< of the full frame's width
    FramePlace frame;
    double millimetresPerUnit = 1000.0; ///< scene scale: mm in one scene unit of distance
    optics::Iris iris;
    GlintSettings glint;
    FrameEdge frameEdge = FrameEdge::continuePicture;
    double pixelAspect = 1.0; ///< width of a pixel divided by its height
    /// sceneBrightness() of the whole picture, so that its parts and sizes are repaired alike; 0: of what is
    /// given.
    double brightness = 0.0;
    /// For a picture that is shown for a moment while a control moves: what is hidden is filled without its
    /// texture.
    bool isCoarse = false;
    /// Side of the tiles that the picture is gathered in, px: a multiple of 32, whatever the picture's size;
    /// 0: by its size. What comes out does not hang on it.
    int tilePx = 0;

    /// Throws Error naming the setting that is out of range.
    void check() const;
    /// The blur of a picture of the given width.
    [[nodiscard]] BlurModel blurModel(int pictureWidth) const noexcept;
};

/// What a picture is repaired by: the settings' key, or else its own.
[[nodiscard]] double keyFor(const LensInput& input, const LensSettings& settings);

/// Signed radius (half the CoC) of each pixel, in px of the picture's height unit; negative in front of the
/// focal plane. `distance` is in scene units, +inf for gaps.
[[nodiscard]] Plane<float> blurRadiusPx(const Plane<float>& distance, const LensSettings& settings,
                                        const Run& run = {});
/// The same with what regions do to it; `blur` has the size of `distance`, or is null.
[[nodiscard]] Plane<float> blurRadiusPx(const Plane<float>& distance, const BlurShare* blur,
                                        const LensSettings& settings, const Run& run = {});

/// `colour` with its glints raised.
[[nodiscard]] RgbaImage withGlintsLifted(const RgbaImage& colour, const GlintSettings& glint,
                                         const Run& run = {});
/// A sample's light counts as if it filled the pixel: a lamp is as bright where only its rim is seen.
[[nodiscard]] DeepPicture withGlintsLifted(DeepPicture deep, const GlintSettings& glint);

/// The first half of defocus(), with the same arguments: the picture taken apart into what it will spread
/// (edge_repair.h). Of frame edge *mirror* without what is added at the edge.
[[nodiscard]] Surfaces takeApart(const LensInput& input, const LensSettings& settings, const Run& run = {});

/// The picture through the lens. The same request gives the same pixels on one thread or many. Throws
/// Cancelled when stopped, and Error when planes differ in size.
///
/// A uniform picture stays uniform to 1e-5; the sum of a blurred point equals the point (frame edges aside).
/// Objects, of mattes, say whose light mixed pixels hold. Samples of a deep picture are spread at their own
/// distances, so that anti-aliased and semi-transparent pixels need no unmixing.
[[nodiscard]] RgbaImage defocus(const LensInput& input, const LensSettings& settings, const Run& run = {});

} // namespace retinex::defocus

namespace retinex {

template <>
inline constexpr std::array<std::string_view, 3> kWords<defocus::FrameEdge>{"continue", "mirror", "open"};

} // namespace retinex
