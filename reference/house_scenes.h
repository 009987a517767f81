#pragma once

#include "reference/scenes.h"

/// In and around a house.
namespace retinex::reference {

/// Wire mesh close to the lens, a bird on a perch in focus, a bush and open sky behind.
[[nodiscard]] Trial aviary();
/// Ladles and pans that hang before a shelf of jars in focus, a tiled wall with a bright window.
[[nodiscard]] Trial kitchen();
/// A rope between posts close to the lens, a vase on a plinth in focus, columns and framed pictures behind.
[[nodiscard]] Trial gallery();
/// Wires of a rack with loaves close to the lens, more of them on a table in focus, an oven, jars and bulbs
/// behind; rendered dark.
[[nodiscard]] Trial bakery();

} // namespace retinex::reference
