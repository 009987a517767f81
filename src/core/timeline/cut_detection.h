#pragma once

#include "core/image/image.h"

#include <optional>
#include <vector>

/// Where one shot ends and the next begins, proposed from the pictures.
namespace retinex::timeline {

/// A frame in short: what it looks like in 16 x 9 fields, and how its brightness is spread.
struct FrameSketch
{
    static constexpr int columns = 16;
    static constexpr int rows = 9;
    static constexpr int bins = 24;
    std::vector<float> fields; ///< mean of each field, toned, three colours
    std::vector<float> spread; ///< share of the pixels in each bin of toned brightness
};
/// `colour` is scene-linear; it may be reduced.
[[nodiscard]] FrameSketch sketchOf(const RgbaImage& colour);

/// How much two frames differ, 0..1.
[[nodiscard]] double difference(const FrameSketch& a, const FrameSketch& b);

/// The frames that begin a shot. `sketches[i]` is of frame `first` + i; nothing where a frame is missing. A
/// cut is a step that stands out: several times what changes in the frames around it, so that fast moves and
/// flicker, which change much on every frame, are not taken for cuts. Fades are not found.
[[nodiscard]] std::vector<int> proposedCuts(const std::vector<std::optional<FrameSketch>>& sketches,
                                            int first);

} // namespace retinex::timeline
