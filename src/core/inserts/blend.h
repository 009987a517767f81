#pragma once

#include "core/inserts/insert.h"

namespace retinex::inserts {

using Pixel = std::array<float, 4>; ///< R, G, B, A: premultiplied

using Colour = std::array<float, 3>; ///< R, G, B: not multiplied by alpha

/// B(Cb, Cs) of W3C's Compositing and Blending Level 1, section 10.1 (one channel by one) and 10.2 (colour
/// and luminosity). All formulas but multiply, darken, lighten and add hold from 0 to 1: light of the lower
/// picture above that is kept on top.
[[nodiscard]] Colour blended(Blend mode, const Colour& below, const Colour& above) noexcept;
/// The same for one channel; of colour and luminosity that is what is above, or below.
[[nodiscard]] float blended(Blend mode, float below, float above) noexcept;

/// `above` blended onto `below` and put over it (section 5.1 and 10): with Cs' = (1 - ab) Cs + ab B(Cb, Cs),
/// co = as Cs' + (1 - as) ab Cb, ao = as + ab (1 - as); of *add* the sums co = as Cs + ab Cb,
/// ao = min(1, as + ab).
[[nodiscard]] Pixel blendedOver(Blend mode, BlendScale scale, const Pixel& below,
                                const Pixel& above) noexcept;

/// `above` blended onto a surface, as far as that covers (source-atop, section 9.8).
[[nodiscard]] Pixel paintedOn(Blend mode, BlendScale scale, const Pixel& below, const Pixel& above) noexcept;

} // namespace retinex::inserts
