#pragma once

#include "reference/scenes.h"

/// Thin things close to the lens, before edges in focus: where wrong guesses of what they hide are seen as
/// teeth and shreds. `foregroundPx`: the diameter of the foreground's blur disc in a picture 640 px wide.
namespace retinex::reference {

[[nodiscard]] Trial wireBeforeBooks(double foregroundPx);
[[nodiscard]] Trial stalksBeforeAnEdge(double foregroundPx);
[[nodiscard]] Trial chainBeforeLetters(double foregroundPx);
[[nodiscard]] Trial ballBehindABar(double foregroundPx);
/// Made when tuning had ended.
[[nodiscard]] Trial netBeforeFruit(double foregroundPx);
[[nodiscard]] Trial railingBeforeTiles(double foregroundPx);

} // namespace retinex::reference
