#pragma once

#include "reference/scenes.h"

/// Indoors and out, with much behind bars, leaves and flags.
namespace retinex::reference {

/// Turned balusters close to the lens, a clock on a landing in focus, steps and a window behind.
[[nodiscard]] Trial stairwell();
/// Leaves and fruit on a branch close to the lens, a ladder at a tree in focus, more trees and a fence
/// behind.
[[nodiscard]] Trial orchard();
/// Bunting and a pole close to the lens, crates of fruit in focus, stalls and houses with lit windows behind.
[[nodiscard]] Trial market();
/// A luggage cart's bars close to the lens, a bench and cases in focus, columns, a train and signals behind.
[[nodiscard]] Trial station();

} // namespace retinex::reference
