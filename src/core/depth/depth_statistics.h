#pragma once

#include "core/image/image.h"

#include <cstddef>

namespace retinex::depth {

/// What the stored numbers of a depth pass look like, before anything is decided about them. Shares are 0..1.
struct DepthStatistics
{
    std::size_t pixels = 0;
    std::size_t zeros = 0;
    std::size_t negatives = 0;
    std::size_t infinites = 0;
    std::size_t nans = 0;
    double least = 0.0; ///< of all finite numbers but 0
    double most = 0.0;
    /// Percentiles of the same, without the largest number where a part of the picture holds it.
    double p1 = 0.0, p5 = 0.0, p50 = 0.0, p95 = 0.0, p99 = 0.0;
    std::size_t distinct = 0; ///< different numbers; counted up to 100,000 pixels of a thinned picture
    int levels = 0;           ///< 255 or 65535: numbers are that many equal steps of 0..1; 0: they are not
    int significantBits = 24; ///< of the numbers' mantissas: 11 for half, 24 for full float
    double shareAtMost = 0.0; ///< pixels that hold the largest finite number itself
    double shareAtZero = 0.0;

    bool hasAlpha = false;
    double openShare = 0.0;          ///< pixels with alpha 0
    double openAtZero = 0.0;         ///< of those: hold 0
    double openAtMost = 0.0;         ///< of those: hold the largest number
    double openNotFinite = 0.0;      ///< of those: infinite or NaN
    double opaqueWithoutDepth = 0.0; ///< of the pixels with alpha above 0.99: hold 0, infinity or NaN

    std::size_t edges = 0;     ///< places where a row or column jumps from one surface to another
    double betweenShare = 0.0; ///< of those: with pixels between the two surfaces (anti-aliased depth)
    double noise = 0.0; ///< typical scatter of neighbours about a straight line, as a share of the number

    /// Neighbours scatter by more than a surface explains; coarse steps are something else.
    [[nodiscard]] bool isNoisy() const noexcept { return noise > 0.004 && levels != 255; }
    [[nodiscard]] bool isAntiAliased() const noexcept { return edges > 200 && betweenShare > 0.35; }
    /// The step between neighbouring numbers as a share of p99 - p1, for poleVotes.
    [[nodiscard]] double quantum() const noexcept;
    [[nodiscard]] bool isNormalised() const noexcept { return least >= 0.0 && most <= 1.0001; }
};

/// `alpha` may be null.
[[nodiscard]] DepthStatistics statisticsOf(const Plane<float>& stored, const Plane<float>* alpha);

} // namespace retinex::depth
