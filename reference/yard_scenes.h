#pragma once

#include "reference/scenes.h"

/// Scenes made when outlines went on straight behind bars; two faults that they showed have been mended
/// since.
namespace retinex::reference {

/// Slats of a blind close to the lens, a pot with leaves on a sill in focus, brick and small lamps beyond.
[[nodiscard]] Trial blind();
/// Ropes close to the lens, a spoked wheel in focus, barrels and a wall of planks behind.
[[nodiscard]] Trial wheel();
/// Masts and rigging at all distances, buoys in front, a lit quay far off, open sky.
[[nodiscard]] Trial harbour();

} // namespace retinex::reference
