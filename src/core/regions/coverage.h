#pragma once

#include "core/image/pixel_box.h"
#include "core/regions/placement.h"
#include "core/system/run.h"

#include <functional>

namespace retinex::regions {

/// What the project's mattes of some titles cover together, 0..1; those that are not there cover nothing.
using MatteCoverage = std::function<Plane<float>(const std::vector<std::string>& titles)>;

/// What areas are made of besides what is drawn. All planes have the size of `box`.
struct Surroundings
{
    PixelBox box;                           ///< the pixels asked for, of the frame; beyond it with overscan
    const Plane<float>* distance = nullptr; ///< scene units, before regions; not null
    const Plane<std::uint8_t>* gaps = nullptr; ///< for medians alone; likewise
    MatteCoverage mattes{};                    ///< as large; where empty, there are none
};

/// Where an area covers anything: 0..1 for each pixel of a box within the surroundings', 0 beyond.
struct Coverage
{
    PixelBox box;
    Plane<float> values;
};

/// The area of a region on a frame: pieces joined in their order, inverted, grown, feathered, pulled onto
/// edges. Areas are always made for the whole picture; pieces and sizes are taken from that, so that they
/// agree.
[[nodiscard]] Coverage coverageWithin(const PlacedRegion& region, const Surroundings& around, const Run& run);
/// The same for all of the surroundings' box.
[[nodiscard]] Plane<float> coverageOf(const PlacedRegion& region, const Surroundings& around, const Run& run);

} // namespace retinex::regions
