#pragma once

#include "core/timeline/subject.h"

/// Which frame is shown when frames are played.
namespace retinex::timeline {

/// What comes after the last frame.
enum class Loop { once, round, backAndForth };

/// `steps` frames on from `from` (back where below 0). A start outside of `range` counts as its first frame,
/// playing back as its last.
[[nodiscard]] int frameAfter(const FrameRange& range, Loop loop, int from, long steps) noexcept;

/// Frames that come one after the other, without the one played from; each once; at most `count`.
[[nodiscard]] std::vector<int> framesAhead(const FrameRange& range, Loop loop, int from, int direction,
                                           int count);

} // namespace retinex::timeline
