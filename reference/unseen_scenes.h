#pragma once

#include "reference/scenes.h"

/// Scenes that the lens engine was never tuned on: made after it, and not looked at while it was worked on.
namespace retinex::reference {

/// A railing and a coiled rope close to the lens, a lantern on a bollard in focus, boats and masts behind.
[[nodiscard]] Trial pier();
/// Rungs of a ladder close to the lens, a globe on a desk in focus, shelves of books and a lamp behind.
[[nodiscard]] Trial library();
/// A luggage cart's bars close to the lens, a bench and cases in focus, columns, a train and signals behind.
[[nodiscard]] Trial station();

} // namespace retinex::reference
