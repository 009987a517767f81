#pragma once

#include "core/defocus/defocus.h"
#include "core/frame/render_frame.h"

#include <QImage>

namespace retinex::app {

/// The scale of the Blur view: from sharp (black) to the largest CoC (light).
struct BlurTones
{
    double largestPx = 1.0; ///< CoC diameter: the frame's largest, 1 at least
    double pxPerMm = 1.0;   ///< sensor to frame, for the same scale in mm

    /// 0 to 255.
    [[nodiscard]] int tone(double cocPx) const noexcept;
};

/// The CoC of each pixel. What lies in front of the focal plane is ochre and ruled with dark level lines,
/// what lies behind it is violet and plain.
[[nodiscard]] QImage blurImage(const Plane<float>& radiusPx, const BlurTones& tones);
[[nodiscard]] BlurTones blurTones(const Plane<float>& radiusPx, double pxPerMm);

/// What edge repair did with a pixel, as far as it shows.
enum class RepairMark : std::uint8_t {
    asItCame,
    mixed,  ///< of several surfaces, taken apart
    filled, ///< something is put in behind it
    seen    ///< that is what other frames show there
};
inline constexpr QRgb kMixedLight = 0xfff0e9dc;
inline constexpr QRgb kMixedDark = 0xff141414;
inline constexpr QRgb kFilledEdge = 0xffd99a3d; ///< beside what is filled

/// Spots on what other frames show: two pixels of either, this far apart.
inline constexpr int kSeenSpacing = 7;
inline constexpr int kSeenSpot = 2;

/// For the Repair view: the source, and in place of what hides it what was filled in behind it, scene-linear;
/// in stripes where that are two surfaces.
struct RepairPicture
{
    RgbaImage values;
    Plane<RepairMark> marks;
};
[[nodiscard]] RepairPicture repairPicture(const frame::RepairedFrame& repaired);
/// On the picture as shown: what is as it came grey and dark, the rest by its mark.
void markRepair(QImage& image, const Plane<RepairMark>& marks);

} // namespace retinex::app
