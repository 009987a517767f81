#pragma once

#include "core/base/object_shares.h"
#include "core/defocus/defocus.h"

#include <QImage>

namespace retinex::app {

/// The scale of the Blur view: from sharp (black) to the largest CoC (light).
struct BlurTones
{
    double largestPx = 1.0; ///< CoC diameter; a round number that no pixel exceeds
    double pxPerMm = 1.0;   ///< sensor to frame, for the same scale in mm

    /// 0 to 255.
    [[nodiscard]] int tone(double cocPx) const noexcept;
};

/// The CoC of each pixel. What lies in front of the focal plane is ochre and ruled with dark level lines,
/// what lies behind it is violet and plain.
[[nodiscard]] QImage blurImage(const Plane<float>& radiusPx, const BlurTones& tones);
[[nodiscard]] BlurTones blurTones(const Plane<float>& radiusPx, double pxPerMm);

/// What edge repair did, for the Repair view: the picture darkened, and at full brightness what was put
/// behind its foregrounds. Scene-linear.
[[nodiscard]] RgbaImage repairedPicture(const RgbaImage& colour, const Plane<float>& radiusPx,
                                        const ObjectShares* objects, const Run& run,
                                        Plane<std::uint8_t>& mixed);
/// Marks the pixels that were taken apart, on the picture as shown.
void markMixed(QImage& image, const Plane<std::uint8_t>& mixed);

} // namespace retinex::app
