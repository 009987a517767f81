#pragma once

namespace retinex::app {

/// A number for a gesture: changes that bear the same one are one step to undo. No two gestures of the
/// program have the same, whatever they are of. From the interface thread.
[[nodiscard]] int newGesture() noexcept;

} // namespace retinex::app
