#pragma once

#include "core/image/image.h"
#include "core/timeline/subject.h"

/// A subject's distance, read from the depth pass.
namespace retinex::timeline {

/// One surface among those under a subject's disc or outline.
struct SurfaceUnder
{
    double distance = 0.0; ///< median, scene units
    double share = 0.0;    ///< of the pixels that have depth, 0..1
    bool isMiddle = false; ///< the pixel at the place, or the nearest one to it that has depth, belongs to it
    friend bool operator==(const SurfaceUnder&, const SurfaceUnder&) = default;
};

/// The surfaces under the subject at `place`, nearest first; gaps left out. Distances that follow one another
/// without a jump are one surface: a step of more than 4 % that parts the sorted distances begins another.
/// Empty where there are only gaps, or outside of the picture. `distance` and `gaps` have the same size.
[[nodiscard]] std::vector<SurfaceUnder> surfacesUnder(const Subject& subject, const Place& place,
                                                      const Plane<float>& distance,
                                                      const Plane<std::uint8_t>& gaps);

/// What lies under a subject on one frame.
struct FrameSight
{
    int frame = 0;
    bool isAnchor = false; ///< placed by hand: what lies in the middle is the subject
    std::vector<SurfaceUnder> surfaces;
};

/// The subject's distance on each frame of a shot. From the frames placed by hand on and back from the first,
/// it is the surface that goes on where the one of the neighbouring frame was: a distance that jumps by more
/// than a tenth is something else that hides the subject, and is bridged or reported; the subject is
/// found again where a surface lies at its distance. `sights` rise by frame; frames that are missing are
/// treated as hidden.
[[nodiscard]] std::vector<Sample> followDistance(const std::vector<FrameSight>& sights, bool bridgesHidden);

} // namespace retinex::timeline
