#pragma once

#include "core/others/frame_camera.h"
#include "core/others/other_frames.h"

#include <vector>

namespace retinex::others {

/// How far what is `nearest` moves against what lies at `farther` in the middle of the picture, px, from one
/// camera to another.
[[nodiscard]] double parallax(const FrameCamera& own, const FrameCamera& other, int width, int height,
                              double nearest, double farther);

/// How many frames before and after a frame are worth a look: steps of 1, 2, 4 ... frames up to `longest`, in
/// which what is nearest, blurred by `radiusPx`, moves by about half its own blur, by three times that blur,
/// and for *far* by eight times it; `eachPx` is its parallax from frame to frame. Rising, none twice; none
/// where it stands still.
[[nodiscard]] std::vector<int> stepsAway(OtherFrames views, double radiusPx, double eachPx, int longest);

} // namespace retinex::others
