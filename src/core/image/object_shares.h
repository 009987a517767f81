#pragma once

#include "core/image/pixel_samples.h"

#include <cstdint>
#include <memory>
#include <span>

namespace retinex {

/// How much of a pixel an object fills, as a matte says.
struct ObjectShare
{
    std::uint32_t object = 0; ///< from 1 on
    float coverage = 0.0F;    ///< above 0, at most 1
};

/// The objects of each pixel, in any order, each once.
using ObjectShares = PixelSamples<ObjectShare>;
using ObjectSharesPtr = std::shared_ptr<const ObjectShares>;

/// Coverage of one object, or of whichever is named in each pixel.
struct ObjectCoverage
{
    Plane<float> coverage;
    std::uint32_t object = 0;
    Plane<std::uint32_t> objects{}; ///< in place of `object`; 0 is none; empty where there is but one
};

/// What several of them say together; all have the size of the first, of which there must be one. Coverage
/// beyond 0 to 1 is held to it, what is not a number counts as 0.
[[nodiscard]] ObjectShares objectSharesOf(std::span<const ObjectCoverage> coverages);

/// What an object covers of each pixel; 0: what all of them cover together, at most 1.
[[nodiscard]] Plane<float> coverageOf(const ObjectShares& objects, std::uint32_t object = 0);

} // namespace retinex
