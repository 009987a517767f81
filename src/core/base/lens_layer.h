#pragma once

#include "core/base/image.h"
#include "core/base/pixel_box.h"

namespace retinex {

/// A further picture in the scene: a backdrop or an insert. Planes have the size of what goes through the
/// lens.
struct LensLayer
{
    RgbaImage colour;          ///< scene-linear, premultiplied, finite
    Plane<float> distance;     ///< scene units, +inf at the far end; of no meaning where nothing is
    PixelBox box{};            ///< nothing lies outside of it; empty: not known
    float addedPx = 0.0F;      ///< radius of a blur of its own
    bool isBehindAll = false;  ///< seen only where nothing else is, whatever its distance
    bool stepsBack = true;     ///< what is nearer stands in front of it; else it replaces that
    bool isTakenApart = false; ///< its distances have edges: it is repaired as a picture is
};

} // namespace retinex
