#pragma once

#include "core/system/words.h"
#include <limits>

/// The thin lens. The *circle of confusion* (CoC) is the disc that one point covers on the sensor. Distance
/// is planar: from the lens along its axis, not along the ray. All lengths in this file are in millimetres.
///
/// Source: Potmesil and Chakravarty, "A Lens and Aperture Camera Model for Synthetic Image Generation",
/// SIGGRAPH 1981; the limits and the hyperfocal distance are the usual forms of optics handbooks.
namespace retinex::optics {

/// What a lens does when it is focused.
///
///   rendered   its picture keeps its framing: the blur is that of an opening f/N in front of what a pinhole
///              sees with focal length f, c = A f / s |z - s| / z. So renderers have it.
///   physical   it moves out, c = A f / (s - f) |z - s| / z. So handbooks have it.
///
/// They differ by s / (s - f).
enum class Framing { rendered, physical };

/// The lens as it is set on a camera.
struct ThinLens
{
    double focalLengthMm = 50.0;
    double fStop = 2.8;
    double focusDistanceMm = 2000.0; ///< may be +inf: focused at infinity
    Framing framing = Framing::rendered;

    /// Throws Error naming the setting when one is not a positive number or the focus distance is not
    /// beyond the focal length.
    void check() const;

    /// Diameter of the entrance pupil, A = f / N.
    [[nodiscard]] double apertureMm() const noexcept { return focalLengthMm / fStop; }
    /// What the focus distance is counted from in the formulas: s, or s - f of a physical lens.
    [[nodiscard]] double extensionMm() const noexcept
    {
        return framing == Framing::physical ? focalLengthMm : 0.0;
    }
};

/// Signed CoC diameter on the sensor: negative in front of the focal plane, 0 on it, positive behind it.
///
///   c = A f / (s - e) (z - s) / z        e = f of a physical lens, 0 as rendered
///
///   distance z     result
///   finite, > 0    as above; falls without bound as z nears 0
///   +infinity      A f / (s - e)
///   0, < 0, NaN    as +infinity: a gap stands at the far end
[[nodiscard]] double circleOfConfusionMm(const ThinLens& lens, double distanceMm) noexcept;

/// The CoC of a point at infinity, A f / (s - e); 0 when the lens is focused at infinity.
[[nodiscard]] double circleOfConfusionAtInfinityMm(const ThinLens& lens) noexcept;

/// Hyperfocal distance H = f^2 / (N c) + e for an accepted CoC c > 0.
[[nodiscard]] double hyperfocalMm(const ThinLens& lens, double acceptedCocMm) noexcept;

/// Distances at which the CoC reaches the accepted value; between them lies the sharp zone.
struct SharpZone
{
    double nearMm = 0.0;
    double farMm = std::numeric_limits<double>::infinity(); ///< +inf from the hyperfocal distance on
};

/// near = s (H - e) / (H + s - 2 e), far = s (H - e) / (H - s), far = +inf where s >= H: the handbook forms
/// of a physical lens; as rendered they follow from its CoC in the same way.
[[nodiscard]] SharpZone sharpZone(const ThinLens& lens, double acceptedCocMm) noexcept;

/// The f-stop at which the CoC of `distanceMm` has the diameter `cocMm` (> 0): the inverse of
/// circleOfConfusionMm in N. +inf for a point on the focal plane.
[[nodiscard]] double fStopForCoc(const ThinLens& lens, double distanceMm, double cocMm) noexcept;

/// Full f-stop `index` of the series of ISO 517, which is 2^(index/2): 0 is f/1, 2 is f/2, 7 is f/11.
/// Returns the exact value (11.31...), not the one engraved (11).
[[nodiscard]] double fullStop(int index) noexcept;

} // namespace retinex::optics

namespace retinex {

template <>
inline constexpr std::array<std::string_view, 2> kWords<optics::Framing>{"rendered", "physical"};

} // namespace retinex
