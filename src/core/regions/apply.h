#pragma once

#include "core/image/blur_share.h"
#include "core/image/deep_picture.h"
#include "core/regions/coverage.h"

#include <optional>

namespace retinex::regions {

/// What regions change of a picture. Planes have the size of the surroundings' box.
struct Changed
{
    Plane<float> distance;
    Plane<std::uint8_t> gaps;                  ///< a gap that a patch covers by one half is none any more
    std::shared_ptr<BlurShare> blur{};         ///< null where no region changes the blur
    std::shared_ptr<const DeepPicture> deep{}; ///< null of flat pictures; samples front to back
};

/// Median distance of the surface under an area: of what is no gap and covered by more than one half, each
/// counted by its coverage (of large areas some 100,000 pixels evenly spread). Nothing where there is none.
[[nodiscard]] std::optional<double> medianUnder(const Plane<float>& coverage, const Plane<float>& distance,
                                                const Plane<std::uint8_t>& gaps);

/// Distance of a ramp at a place, scene units > 0, +inf where it runs to infinity. Along the line through its
/// two places t goes from 0 to 1, across it nothing changes; 1/d = (1 - t)/d1 + t/d2, or by choice
/// d = (1 - t) d1 + t d2; it goes on beyond both.
[[nodiscard]] double rampDistance(const PlacedRegion& region, double x, double y) noexcept;

/// One region after the other. Where an area covers in piece, distances lie between, even in 1/distance;
/// shares of blur too; of added blur the squares, since variances add up. A rim no wider
/// than a pixel is in or out, as its distance is that of one side or the other. `around` has the distances
/// and gaps before regions at full size: areas are made by them. `picture` may be at 1/divisor of the size
/// (picked, see reduced.h): it gets what the whole one would have there; added blur stays in px of the full
/// frame.
void apply(const std::vector<PlacedRegion>& regions, const Surroundings& around, Changed& picture,
           const Run& run, int divisor = 1);

} // namespace retinex::regions
