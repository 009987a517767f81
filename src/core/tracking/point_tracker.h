#pragma once

#include "core/image/image.h"
#include "core/system/run.h"
#include "core/timeline/subject.h"

#include <functional>

/// Following a point through pictures. A library of its own, since it needs OpenCV.
namespace retinex::tracking {

struct TrackSettings
{
    double patchPx = 12.0;         ///< half the side of what is compared around the point
    double leastConfidence = 0.55; ///< below, the point counts as lost
};

enum class TrackEnd {
    done,     ///< the last frame asked for was reached
    lost,     ///< what is there does not look like it any more: hidden, or changed
    leftFrame ///< the point left the picture
};

struct Track
{
    std::vector<timeline::Place>
        places; ///< one for each frame that was found, rising; the start is not in it
    TrackEnd end = TrackEnd::done;
    int endFrame = 0; ///< the first frame that was not found; the last frame when done
};

/// A picture for tracking: brightness, 0..1 as it is seen; see tracking_picture.h.
using FramePicture = std::function<Plane<float>(int frame)>;

/// Follows the point from `start` frame by frame to `lastFrame`, which may lie before it.
///
/// Each step goes by the pyramidal method of Lucas and Kanade (1981; Bouguet 2000) on a grid of points around
/// it, those kept that come back when followed the other way; their median shift is then set right by
/// normalised correlation with the patch around the start, so that small errors do not add up. The
/// correlation is the confidence. A patch that has slowly changed (turned, come closer) is taken anew, which
/// lowers the confidence for good. Throws Cancelled, and what `picture` throws.
[[nodiscard]] Track trackPoint(const FramePicture& picture, const timeline::Place& start, int lastFrame,
                               const TrackSettings& settings = {}, const Run& run = {});

} // namespace retinex::tracking
