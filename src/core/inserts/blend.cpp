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
    case Blend::hardLight:
        return hardLight(low, high) + rest;
    case Blend::dodge:
        if (low <= 0.0F) return rest;
        return (high >= 1.0F ? 1.0F : std::min(1.0F, low / (1.0F - high))) + rest;
    case Blend::burn:
        if (low >= 1.0F) return 1.0F + rest;
        return (high <= 0.0F ? 0.0F : 1.0F - std::min(1.0F, (1.0F - low) / high)) + rest;
    case Blend::linearBurn:
        return std::max(0.0F, low + high - 1.0F) + rest;
    default:
        return softLight(low, high) + rest;
    }
}

float luminosityOf(const Colour& c) noexcept
{
    return 0.3F * c[0] + 0.59F * c[1] + 0.11F * c[2];
}

/// SetLum and ClipColor of section 10.2.
Colour withLuminosity(Colour colour, float luminosity) noexcept
{
    const float more = luminosity - luminosityOf(colour);
    for (float& c : colour)
        c += more;
    const float l = luminosityOf(colour);
    const auto [least, most] = std::minmax({colour[0], colour[1], colour[2]});
    const float n = least;
    const float x = most;
    for (float& c : colour) {
        if (n < 0.0F) c = l + (c - l) * l / (l - n);
        if (x > 1.0F) c = l + (c - l) * (1.0F - l) / (x - l);
    }
    return colour;
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
    case Blend::colour:
        return above;
    case Blend::luminosity:
        return below;
    default:
        return held(mode, below, above);
    }
}

Colour blended(Blend mode, const Colour& below, const Colour& above) noexcept
{
    Colour result{};
    if (mode != Blend::colour && mode != Blend::luminosity) {
        for (std::size_t c = 0; c < 3; ++c)
            result[c] = blended(mode, below[c], above[c]);
        return result;
    }
    Colour low{};
    Colour high{};
    for (std::size_t c = 0; c < 3; ++c) {
        low[c] = std::clamp(below[c], 0.0F, 1.0F);
        high[c] = std::clamp(above[c], 0.0F, 1.0F);
    }
    result = mode == Blend::colour ? withLuminosity(high, luminosityOf(low))
                                   : withLuminosity(low, luminosityOf(high));
    for (std::size_t c = 0; c < 3; ++c)
        result[c] += below[c] - low[c];
    return result;
}

namespace {

/// On a display's scale. Light above 1 has no place on it: of the lower picture it is kept on top. Channels
/// below 0 are blended as they are.
Colour blendedAsShown(Blend mode, const Colour& below, const Colour& above) noexcept
{
    const auto shown = [](const Colour& c) {
        return Colour{toSrgb(std::clamp(c[0], 0.0F, 1.0F)), toSrgb(std::clamp(c[1], 0.0F, 1.0F)),
                      toSrgb(std::clamp(c[2], 0.0F, 1.0F))};
    };
    Colour result = blended(mode, shown(below), shown(above));
    for (std::size_t c = 0; c < 3; ++c)
        result[c] = below[c] < 0.0F || above[c] < 0.0F
                        ? blended(mode, below[c], above[c])
                        : fromSrgb(std::max(0.0F, result[c])) + below[c] - std::min(below[c], 1.0F);
    return result;
}

} // namespace

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
    if (mode == Blend::normal || as <= 0.0F || ab <= 0.0F) {
        for (std::size_t c = 0; c < 3; ++c)
            result[c] = above[c] + (1.0F - as) * below[c];
    } else {
        const Colour cb{below[0] / ab, below[1] / ab, below[2] / ab};
        const Colour cs{above[0] / as, above[1] / as, above[2] / as};
        const Colour b = scale == BlendScale::linear ? blended(mode, cb, cs) : blendedAsShown(mode, cb, cs);
        for (std::size_t c = 0; c < 3; ++c)
            result[c] = as * ((1.0F - ab) * cs[c] + ab * b[c]) + (1.0F - as) * below[c];
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
