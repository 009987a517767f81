#pragma once

#include "core/depth/depth_reading.h"

#include <array>
#include <cstdint>
#include <vector>

/// What flat surfaces tell of a depth pass. Along any straight line in the picture that lies on one plane of
/// the scene, the reciprocal of the planar distance runs straight (it is what perspective interpolates:
/// Blinn, "Hyperbolic Interpolation", IEEE Computer Graphics and Applications 12(4), 1992). A stored number s
/// is a fractional-linear function of 1/d in every reading, so 1 / (s - p) runs straight for one number p,
/// the *pole*:
///
///   distance                     p = 0
///   grey, even in distance       p = the stored number that distance 0 would have: beyond the near end
///   reciprocal, clip space,      p is infinitely far: s itself runs straight
///   grey even in 1/distance
///
/// Each three pixels in a row on one surface give one p; flat surfaces agree on it, curved ones scatter.
namespace retinex::depth {

struct PoleVotes
{
    double low = 0.0; ///< 1st and 99th percentile of the numbers
    double high = 1.0;
    /// Votes for q = (high - low) / (p - middle) in equal steps over [-2, 2]: -2 is a pole at `low`, 0 one
    /// infinitely far, 2 one at `high`.
    std::vector<double> votes;
    double total = 0.0;

    [[nodiscard]] double position(double pole) const noexcept; ///< q of a pole
    [[nodiscard]] double pole(double q) const noexcept;        ///< +-inf at q = 0
    /// Share of votes within `reach` of q.
    [[nodiscard]] double share(double q, double reach = 0.09) const noexcept;
    /// The q from `from` to `to` that most votes lie around.
    [[nodiscard]] double peak(double from = -2.0, double to = 2.0) const noexcept;
};

/// 1st and 99th percentile of the numbers that are no gaps, from a thinned sample; 0 and 0 where there are
/// too few.
struct NumberRange
{
    double low = 0.0;
    double high = 0.0;
};
[[nodiscard]] NumberRange centralRange(const Plane<float>& stored, const Plane<std::uint8_t>& gaps);

/// Five numbers in a row at equal spacing that may lie on one surface.
struct NumberRow
{
    std::array<float, 5> values;
    /// u^2 + v^2 of their pixels where the frame's half width is 1, for lengths along the ray.
    std::array<float, 5> away;
};

/// Rows of several lengths, across and down. `quantum` is the step that numbers are stored in, as a share of
/// high - low (0.004 for 8 bits).
[[nodiscard]] std::vector<NumberRow> numberRows(const Plane<float>& stored, const Plane<std::uint8_t>& gaps,
                                                const NumberRange& range, double quantum,
                                                double pixelAspect = 1.0);

/// Three numbers that a step could turn to another answer do not vote. With a field of view the numbers are
/// taken as lengths along the ray, and made planar. Every `thinning`-th row votes.
[[nodiscard]] PoleVotes poleVotes(const std::vector<NumberRow>& rows, const NumberRange& range,
                                  double quantum, double fieldOfViewDeg = 0.0, std::size_t thinning = 1);
[[nodiscard]] PoleVotes poleVotes(const Plane<float>& stored, const Plane<std::uint8_t>& gaps,
                                  const NumberRange& range, double quantum);

} // namespace retinex::depth
