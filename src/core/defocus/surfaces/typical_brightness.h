#pragma once

#include "core/defocus/surfaces/pixel_colour.h"
#include "core/system/run.h"

namespace retinex::defocus {

/// How bright the far surfaces around a pixel are as a rule: the geometric mean over about 48 px. A guess is
/// held to four times that, so that a lamp cut by an edge is not made whole again, or larger than it was,
/// behind it.
class TypicalBrightness
{
public:
    TypicalBrightness(const RgbaImage& colour, const Plane<float>& radius, const Run& run);

    /// `radius` is that of the guess: only blocks whose far half lies about as far count.
    void hold(Colour& guess, float radius, int x, int y) const;

private:
    static constexpr int kBlock = 16;
    static constexpr float kFloor = 0.02F;
    static constexpr float kMost = 4.0F;

    void measure(const RgbaImage& colour, const Plane<float>& radius, int bx, int by);

    Plane<float> m_log;    ///< mean log2 brightness of the far half of a block
    Plane<float> m_radius; ///< its mean radius
};

} // namespace retinex::defocus
