#pragma once

#include "core/image/pixel_samples.h"

#include <array>

namespace retinex {

/// A surface of its own, or a volume of even density.
struct DeepSample
{
    std::array<float, 4> colour{}; ///< R, G, B, A: scene-linear, premultiplied by its own alpha
    float depth = 0.0F;            ///< as stored, or distance (scene units, +inf for none): the owner says
    float back = 0.0F;             ///< where a volume ends; not behind `depth`: a surface

    [[nodiscard]] bool isVolume() const noexcept { return back > depth; }
};

/// A picture with several samples a pixel, front to back. What a sample shows is its colour times the
/// transparency of those in front of it ("over").
using DeepPicture = PixelSamples<DeepSample>;

} // namespace retinex
