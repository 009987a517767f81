#pragma once

#include <cmath>

namespace retinex {

/// Of a volume of even density and the given alpha, the part that is `share` of its length.
struct VolumeShare
{
    double alpha = 0.0; ///< of the part
    double light = 0.0; ///< its premultiplied colour, as a share of the whole volume's
};

/// Light is absorbed exponentially: the part lets (1 - alpha)^share through (the law of Beer and Lambert;
/// "splitting" in Kainz, "Interpreting OpenEXR Deep Pixels", 2013). alpha: 0..1, share: above 0 to 1.
[[nodiscard]] inline VolumeShare volumeShare(double alpha, double share)
{
    if (alpha <= 0.0) return {0.0, share}; // it glows and hides nothing
    const double part = alpha >= 1.0 ? 1.0 : -std::expm1(share * std::log1p(-alpha));
    return {part, part / alpha};
}

} // namespace retinex
