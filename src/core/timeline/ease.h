#pragma once

#include "core/system/words.h"
#include <optional>
#include <string_view>

/// How a pull leaves one mark and arrives at the next.
namespace retinex::timeline {

/// *hold* only means something where a mark is left: the value stays until the next mark.
enum class Ease { smooth, linear, hold, curve };

/// One side of a mark. The handle of *curve* is measured from the mark: `reach` is its share of the frames to
/// the neighbouring mark (0..1), `rise` its share of the way to that mark's value.
struct Side
{
    Ease ease = Ease::smooth;
    double reach = 1.0 / 3.0;
    double rise = 0.0;
    bool mayOvershoot = false; ///< otherwise `rise` counts as held to 0..1

    Side() = default;
    Side(Ease which) : ease(which) {} // NOLINT: an ease is a side without a handle of its own
    Side(double reach_, double rise_, bool overshoot = false)
        : ease(Ease::curve), reach(reach_), rise(rise_), mayOvershoot(overshoot)
    {
    }
    friend bool operator==(const Side&, const Side&) = default;
};

struct Handle
{
    double reach;
    double rise;
};
/// The handle that a side acts with: (1/3, 0) for smooth, (1/3, 1/3) for linear, its own for curve.
[[nodiscard]] Handle handleOf(const Side& side) noexcept;

/// How much of the way is done after a share `t` of the frames, both 0..1 (the way more or less where a
/// handle may overshoot).
///
/// A cubic Bezier curve through (0, 0) and (1, 1) with the handles as inner control points (any book on
/// curves): it lies within the hull of its control points, so handles held to 0..1 cannot overshoot; two
/// smooth sides give 3 t^2 - 2 t^3, two linear ones t.
[[nodiscard]] double progress(const Side& leaving, const Side& arriving, double t) noexcept;

/// A pull in two parts that follow the same curve: the sides that a mark in between needs, and those that its
/// neighbours need then.
struct SplitSides
{
    Side leaving;       ///< of the mark before
    Side arriving;      ///< of the new mark
    Side onward;        ///< of the new mark, leaving
    Side arrivingAtEnd; ///< of the mark after
};
/// At a share `t` of the frames, 0 < t < 1 (de Casteljau's construction, any book on curves).
[[nodiscard]] SplitSides splitAt(const Side& leaving, const Side& arriving, double t) noexcept;

} // namespace retinex::timeline

namespace retinex {

template <>
inline constexpr std::array<std::string_view, 4> kWords<timeline::Ease>{"smooth", "linear", "hold", "curve"};

} // namespace retinex
