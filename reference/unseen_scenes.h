#pragma once

#include "reference/scenes.h"

/// Scenes that the lens engine was never tuned on: made after it, and not looked at while it was worked on.
namespace retinex::reference {

/// A railing and a coiled rope close to the lens, a lantern on a bollard in focus, boats and masts behind.
[[nodiscard]] Trial pier();
/// Rungs of a ladder close to the lens, a globe on a desk in focus, shelves of books and a lamp behind.
[[nodiscard]] Trial library();
/// Wires of a rack with loaves close to the lens, more of them on a table in focus, an oven, jars and bulbs
/// behind; rendered dark.
[[nodiscard]] Trial bakery();

} // namespace retinex::reference
