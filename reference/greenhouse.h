#pragma once

#include "reference/tracer.h"

namespace retinex::reference {

/// The night greenhouse at one frame: an invented scene of the demo. Seedling stems and lattice stand close
/// to the lens, a brass watering can and potted orchids in the middle, benches, strings of small lamps and a
/// lit glass door far behind; outside is nothing. Frames 1 to 24 are the first shot, 25 to 48 the second; the
/// camera drifts in both. Lengths in metres.
struct GreenhouseFrame
{
    static constexpr int firstFrame = 1;
    static constexpr int lastFrame = 48;
    static constexpr int cutFrame = 25; ///< first frame of the second shot
    /// Rough planar distances in the first shot.
    static constexpr double stemDistance = 0.75;
    static constexpr double canDistance = 2.4;
    static constexpr double doorDistance = 8.2;

    Scene scene;
    Camera camera;
};

[[nodiscard]] GreenhouseFrame makeGreenhouse(int frame);

} // namespace retinex::reference
