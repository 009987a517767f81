#pragma once

#include "core/image/image.h"
#include "core/optics/thin_lens.h"
#include "core/system/run.h"

#include <optional>

/// How large the blur is at a distance: the lens, and what an artist may do to it.
namespace retinex::defocus {

/// The lens for depth that has no scale: the blur grows evenly with 1/distance, as it does behind a real
/// lens.
struct SimpleLens
{
    double radiusPx = 20.0;  ///< of the farthest, with the focus at the nearest; in px of the full frame
    double nearest = 1.0;    ///< scene units
    double farthest = 100.0; ///< > nearest; +inf allowed

    friend bool operator==(const SimpleLens&, const SimpleLens&) = default;
};

/// Departures from the lens. They apply in this order: held zone, strength, limits.
struct BlurControls
{
    double strength = 1.0;      ///< 0..2: share of the lens's blur
    double heldNear = 0.0;      ///< held zone: kept sharp in front of the focal plane, scene units
    double heldFar = 0.0;       ///< and behind it; beyond, blur begins as it would at the focal plane
    double limitNearPx = 500.0; ///< largest radius in front of the focal plane
    double limitFarPx = 500.0;  ///< and behind it

    friend bool operator==(const BlurControls&, const BlurControls&) = default;
};

struct BlurModel
{
    optics::ThinLens lens;            ///< gives the focus distance for the simple lens too
    std::optional<SimpleLens> simple; ///< replaces the thin lens's blur where set
    BlurControls controls;
    double millimetresPerUnit = 1000.0; ///< scene scale: mm in one scene unit of distance
    double pxPerMm = 1.0;               ///< sensor to picture, in px of the picture's height unit

    /// Signed radius (half the CoC), px; negative in front of the focal plane. `distance` is in scene units,
    /// > 0, +inf for gaps.
    [[nodiscard]] double radiusPx(double distance) const noexcept;
    /// The lens whose CoC this is, before held zones, strength and limits: for the simple lens one as
    /// rendered, with the f-stop that gives its radius. What is read of a lens (limits, sharp zone) is read
    /// of this.
    [[nodiscard]] optics::ThinLens equivalentLens() const noexcept;
};

/// radiusPx of each pixel.
[[nodiscard]] Plane<float> radiusOfEach(const Plane<float>& distance, const BlurModel& model,
                                        const Run& run = {});

} // namespace retinex::defocus
