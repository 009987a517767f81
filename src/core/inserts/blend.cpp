#include "core/inserts/blend.h"

#include "core/image/srgb.h"

#include <algorithm>
#include <cmath>

namespace retinex::inserts {

namespace {

float hardLight(float below, float above) noexcept
{
    if (above <= 0.5F) return below * 2.0F * above;
    const float screened = 2.0F * above - 1.0F;
    return below + screened - below * screened;
}

float softLight(float below, float above) noexcept
{
    if (above <= 0.5F) return below - (1.0F - 2.0F * above) * below * (1.0F - below);
    const float d = below <= 0.25F ? ((16.0F * below - 12.0F) * below + 4.0F) * below : std::sqrt(below);
    return below + (2.0F * above - 1.0F) * (d - below);
}

/// The modes whose formulas hold from 0 to 1.
float held(Blend mode, float below, float above) noexcept
{
    const float low = std::clamp(below, 0.0F, 1.0F);
    const float rest = below - low;
    const float high = std::clamp(above, 0.0F, 1.0F);
    switch (mode) {
    case Blend::screen:
        return low + high - low * high + rest;
    case Blend::overlay:
        return hardLight(high, low) + rest;
    default:
        return softLight(low, high) + rest;
    }
}

} // namespace

float blended(Blend mode, float below, float above) noexcept
{
    switch (mode) {
    case Blend::normal:
        return above;
    case Blend::multiply:
        return below * above;
    case Blend::darken:
        return std::min(below, above);
    case Blend::lighten:
        return std::max(below, above);
    case Blend::add:
        return below + above;
    case Blend::screen:
    case Blend::overlay:
    case Blend::softLight:
        break;
    }
    return held(mode, below, above);
}

Pixel blendedOver(Blend mode, BlendScale scale, const Pixel& below, const Pixel& above) noexcept
{
    const float ab = below[3];
    const float as = above[3];
    Pixel result{};
    if (mode == Blend::add) {
        for (std::size_t c = 0; c < 3; ++c)
            result[c] = below[c] + above[c];
        result[3] = std::min(1.0F, as + ab);
        return result;
    }
    for (std::size_t c = 0; c < 3; ++c) {
        if (mode == Blend::normal || as <= 0.0F || ab <= 0.0F) {
            result[c] = above[c] + (1.0F - as) * below[c];
            continue;
        }
        const float cb = below[c] / ab;
        const float cs = above[c] / as;
        float b = 0.0F;
        if (scale == BlendScale::linear || cb < 0.0F || cs < 0.0F) {
            b = blended(mode, cb, cs);
        } else {
            // Light above 1 has no place on a display's scale: of the lower picture it is kept on top.
            const float low = std::min(cb, 1.0F);
            b = fromSrgb(std::max(0.0F, blended(mode, toSrgb(low), toSrgb(std::min(cs, 1.0F))))) + cb - low;
        }
        result[c] = as * ((1.0F - ab) * cs + ab * b) + (1.0F - as) * below[c];
    }
    result[3] = as + ab * (1.0F - as);
    return result;
}

Pixel paintedOn(Blend mode, BlendScale scale, const Pixel& below, const Pixel& above) noexcept
{
    const float alpha = below[3];
    if (alpha <= 0.0F || above == Pixel{}) return below;
    Pixel whole{below[0] / alpha, below[1] / alpha, below[2] / alpha, 1.0F};
    whole = blendedOver(mode, scale, whole, above);
    return {whole[0] * alpha, whole[1] * alpha, whole[2] * alpha, alpha};
}

} // namespace retinex::inserts
