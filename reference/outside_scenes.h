#pragma once

#include "reference/scenes.h"

/// Scenes made when the lens engine was fast; a fault that the table showed has been mended since.
namespace retinex::reference {

/// Turned balusters and a rail close to the lens, a table with a jug in focus, a town with lit windows far
/// below.
[[nodiscard]] Trial balcony();
/// A laid table that runs away through the focal plane: a checked cloth, bottles, forks, candles, a branch in
/// front.
[[nodiscard]] Trial table();
/// Reeds before and behind a wooden post in focus, a bank with bushes, open sky.
[[nodiscard]] Trial reeds();

} // namespace retinex::reference
