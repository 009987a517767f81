#pragma once

#include "core/passes/pass_source.h"

#include <QImage>

namespace retinex::app {

/// What equal steps of grey stand for in the Depth view; in the order of AxisScale.
enum class ToneScale { log, dioptre, linear };

/// The tone scale of the Depth view: near is bright.
struct DepthTones
{
    ToneScale scale = ToneScale::log;
    double nearest = 1.0; ///< scene units; 0 < nearest < farthest
    double farthest = 10.0;

    /// 0 at the near end, 1 at the far end; beyond them outside 0..1.
    [[nodiscard]] double position(double distance) const noexcept;
    /// The inverse, for 0..1.
    [[nodiscard]] double distance(double position) const noexcept;
    /// 240 at the near end, 40 at the far end.
    [[nodiscard]] static int grey(double position) noexcept;
};

/// Gaps show as a diagonal weave; what is nearer than the near end as upright lines, what is farther as level
/// lines, over the grey of the end.
[[nodiscard]] QImage depthImage(const passes::FramePasses& passes, const DepthTones& tones);
/// 0 black to 1 white.
[[nodiscard]] QImage matteImage(const Plane<float>& matte);

} // namespace retinex::app
