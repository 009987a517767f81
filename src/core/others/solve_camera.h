#pragma once

#include "core/image/image.h"

#include <ImathMatrix.h>
#include <optional>
#include <span>

namespace retinex::others {

/// A point of the scene in two frames: px, the middle of the first pixel at 0.5.
struct Match
{
    double x = 0.0;
    double y = 0.0;
    double distance = 0.0; ///< planar, scene units, in the first frame
    double toX = 0.0;
    double toY = 0.0;
};

/// How a camera moved from one frame to another.
struct CameraStep
{
    Imath::M44d firstToSecond; ///< points before the first camera to points before the second: z along the
                               ///< view, x to the right, y up
    double errorPx = 0.0;      ///< root mean square of what is left of those that agree, px
    double agree = 0.0;        ///< share of matches within a pixel of it

    static constexpr double kMostError = 0.5; ///< px from which on it is not used
    static constexpr double kLeastAgree = 0.5;
    [[nodiscard]] bool isGood() const noexcept { return errorPx < kMostError && agree >= kLeastAgree; }
};

/// From what stands still among `matches`: three points and more at known places tell a camera (perspective
/// from n points; OpenCV's solvePnPRansac). Nothing where they are too few or tell none.
[[nodiscard]] std::optional<CameraStep> solveCamera(std::span<const Match> matches, int width, int height,
                                                    double fieldOfViewDeg, double pixelAspect = 1.0);

} // namespace retinex::others
