#pragma once

#include "reference/sign.h"
#include "reference/tracer.h"

namespace retinex::reference {

/// The night greenhouse at one frame: an invented scene of the demo. Seedling stems and lattice stand close
/// to the lens, a brass watering can and potted orchids in the middle, benches, strings of small lamps and a
/// lit glass door far behind; a slanted sign stands by the orchids in the second shot; outside is nothing.
/// Frames 1 to 24 are the first shot, 25 to 48 the second; the camera drifts in both. Lengths in metres.
struct GreenhouseFrame
{
    static constexpr int firstFrame = 1;
    static constexpr int lastFrame = 48;
    static constexpr int cutFrame = 25; ///< first frame of the second shot
    /// Rough planar distances in the first shot.
    static constexpr double stemDistance = 0.75;
    static constexpr double canDistance = 2.4;
    static constexpr double doorDistance = 8.2;
    /// Of the sign's middle in the second shot, and of the whole of it where it stands flat on.
    static constexpr double signDistance = 2.14;

    Scene scene;
    Camera camera;
};

[[nodiscard]] GreenhouseFrame makeGreenhouse(int frame, SignPose sign = SignPose::slanted);

} // namespace retinex::reference
