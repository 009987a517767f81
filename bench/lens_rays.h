#pragma once

#include "core/defocus/repair/edge_repair.h"
#include "core/optics/iris.h"

/// How far the engine's picture could go with what it knows of the surfaces. Not a way to make a picture: it
/// takes minutes.
namespace retinex::bench {

/// Each of `samples` points of the lens looks through the surfaces on its own, front to back: what stands
/// before what is exact, where slices hold mean shares of the whole lens against each other. Pixels are
/// opaque as far as their coverage says, independently of each other. Iris outline only; no glints, frame
/// edge continued by its outermost pixels.
[[nodiscard]] RgbaImage throughLens(const defocus::Surfaces& surfaces, const optics::Iris& iris, int samples);

} // namespace retinex::bench
