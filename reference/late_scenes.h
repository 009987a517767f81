#pragma once

#include "reference/scenes.h"

/// Scenes made when the lens engine worked, to measure it by; they have been watched since.
namespace retinex::reference {

/// A wire fence close to the lens, a figure of boxes behind it in focus, trees and open sky.
[[nodiscard]] Trial fence();
/// A row of columns going away over a tiled floor, with globe lamps between them.
[[nodiscard]] Trial arcade();
/// Tools on hooks before a board, a bowl of marbles in front, near focus.
[[nodiscard]] Trial workbench();

} // namespace retinex::reference
