#pragma once

#include "core/defocus/defocus.h"

namespace retinex::test {

/// A lens focused at 2 m whose blur at infinity has the given radius on a frame of `width` px.
inline defocus::LensSettings lensWithRadius(int width, double radiusPx)
{
    defocus::LensSettings settings;
    settings.lens = {50.0, 1.0, 2000.0};
    const double atOne = 0.5 * circleOfConfusionAtInfinityMm(settings.lens) / settings.sensorWidthMm * width;
    settings.lens.fStop = atOne / radiusPx;
    return settings;
}

} // namespace retinex::test
