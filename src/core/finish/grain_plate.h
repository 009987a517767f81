#pragma once

#include "core/finish/step.h"

namespace retinex::finish {

/// Which frame of a plate with frames `first` to `last` is laid over `frame`: there and back again, so that
/// no frame follows one that it does not follow in the plate.
[[nodiscard]] int plateFrame(const GrainPlate& plate, int frame, int first, int last) noexcept;

/// In place. `picture` is the plate, scene-linear, as large as the frame at the canvas's size. Overlay and
/// soft light (W3C, "Compositing and Blending Level 1", section 10) are taken on the sRGB scale, where a
/// plate's mid grey (0.5) changes nothing; add adds what differs from mid grey, on that scale.
void addPlate(Canvas& canvas, const GrainPlate& plate, const RgbaImage& picture, const Run& run);

} // namespace retinex::finish
