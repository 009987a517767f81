#pragma once

#include "core/image/crop.h"
#include "core/image/reduced.h"

#include <cmath>
#include <memory>

namespace retinex {

/// What regions do to the blur of each pixel. Both planes have one size.
struct BlurShare
{
    Plane<float> share;   ///< of the lens's blur, 0 or more; 0 is kept sharp
    Plane<float> addedPx; ///< radius of what is blurred besides, 0 or more

    BlurShare() = default;
    /// Nothing changed.
    BlurShare(int width, int height) : share(width, height, 1.0F), addedPx(width, height) {}

    [[nodiscard]] int width() const noexcept { return share.width(); }
    [[nodiscard]] int height() const noexcept { return share.height(); }

    /// The radius at a pixel, its sign kept: the variances of two blurs add up. What was sharp lies from the
    /// focal plane back.
    [[nodiscard]] float radius(float lensRadius, int x, int y) const noexcept
    {
        const float shared = lensRadius * share.at(x, y);
        const float added = addedPx.at(x, y);
        return added > 0.0F ? std::copysign(std::hypot(shared, added), lensRadius) : shared;
    }
};
using BlurSharePtr = std::shared_ptr<const BlurShare>;

[[nodiscard]] inline BlurShare cropped(const BlurShare& blur, const PixelBox& box)
{
    BlurShare part;
    part.share = cropped(blur.share, box);
    part.addedPx = cropped(blur.addedPx, box);
    return part;
}

/// At 1/divisor of the size: picked, as distances are; px follow.
[[nodiscard]] inline std::shared_ptr<BlurShare> reduced(const BlurShare& blur, int divisor)
{
    auto small = std::make_shared<BlurShare>();
    small->share = picked(blur.share, divisor);
    small->addedPx = picked(blur.addedPx, divisor);
    for (float& added : small->addedPx.pixels())
        added /= static_cast<float>(divisor);
    return small;
}

} // namespace retinex
