#pragma once

#include "core/base/pixel_samples.h"

#include <array>

namespace retinex {

/// A surface of its own.
struct DeepSample
{
    std::array<float, 4> colour{}; ///< R, G, B, A: scene-linear, premultiplied by its own alpha
    float depth = 0.0F;            ///< as stored, or distance (scene units, +inf for none): the owner says
};

/// A picture with several surfaces a pixel, front to back. What a sample shows is its colour times the
/// transparency of those in front of it ("over").
using DeepPicture = PixelSamples<DeepSample>;

} // namespace retinex
