#pragma once

#include "reference/scenes.h"

/// Further scenes, made after the proposal of readings had been tuned, to measure it by.
namespace retinex::reference {

/// A table with crates and balls in the corner of a room.
[[nodiscard]] Trial cornerRoom();
/// A street of plain houses with lamp posts, out to the open sky.
[[nodiscard]] Trial street();
/// Stone steps with a handrail and pots, looking up.
[[nodiscard]] Trial steps();
/// Planks with jars on them, close up.
[[nodiscard]] Trial shelf();

} // namespace retinex::reference
