#pragma once

#include "core/image/image.h"
#include "core/image/pixel_box.h"

namespace retinex {

/// How a further picture lies in the scene.
struct LensLayerPlace
{
    PixelBox box{};            ///< nothing lies outside of it; empty: not known
    float addedPx = 0.0F;      ///< radius of a blur of its own
    bool isBehindAll = false;  ///< seen only where nothing else is, whatever its distance
    bool stepsBack = true;     ///< what is nearer stands in front of it; else it replaces that
    bool isTakenApart = false; ///< its distances have edges: it is repaired as a picture is
};

/// A further picture in the scene: a backdrop or an insert. Planes have the size of what goes through the
/// lens.
struct LensLayer : LensLayerPlace
{
    RgbaImage colour;      ///< scene-linear, premultiplied, finite
    Plane<float> distance; ///< scene units, +inf at the far end; of no meaning where nothing is
};

} // namespace retinex
