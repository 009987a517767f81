#pragma once

#include "reference/scenes.h"

/// Scenes that the lens engine was never tuned on: made after it, and not looked at while it was worked on.
namespace retinex::reference {

/// A railing and a coiled rope close to the lens, a lantern on a bollard in focus, boats and masts behind.
[[nodiscard]] Trial pier();
/// Rungs of a ladder close to the lens, a globe on a desk in focus, shelves of books and a lamp behind.
[[nodiscard]] Trial library();
/// Washing lines and pegs close to the lens, a tub in focus, more washing and houses behind.
[[nodiscard]] Trial laundry();

} // namespace retinex::reference
