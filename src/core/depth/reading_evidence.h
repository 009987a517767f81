#pragma once

#include "core/depth/depth_statistics.h"
#include "core/depth/direction_check.h"
#include "core/depth/straight_lines.h"

/// What a depth pass tells of how it is to be read, before anything is decided.
namespace retinex::depth {

struct ProposalHints
{
    double fieldOfViewDeg = 0.0; ///< across the width, where a file says so; 0: not known
    double pixelAspect = 1.0;
};

struct ReadingEvidence
{
    /// Nearly all numbers lie below 0. All that follows is of the numbers without their sign then.
    bool isBelowZero = false;
    DepthStatistics numbers;
    NumberRange range;  ///< of what is surely no gap
    double cover = 0.0; ///< share of the picture that this is
    double quantum = 0.0;

    double votes = 0.0; ///< rows on flat surfaces
    // Shares of the votes, 0..1, within 0.09 or (narrow) 0.02 of a pole.
    double zero = 0.0; ///< for a pole at 0: distances from the camera plane
    double zeroNarrow = 0.0;
    double ray = 0.0; ///< for one at 0 once lengths along the ray are made planar, at rayFieldDeg
    double rayNarrow = 0.0;
    double rayFieldDeg = 0.0;
    double straight = 0.0; ///< for one infinitely far
    double straightNarrow = 0.0;
    struct Side ///< the most popular pole beyond one end
    {
        double pole = 0.0;
        double share = 0.0;
        double narrow = 0.0; ///< within 0.007: votes of flat surfaces crowd, those of rounded things do not
    };
    Side aboveHigh; ///< larger numbers are nearer
    Side belowLow;  ///< larger numbers are farther
    // The same of greys once they are taken as encoded for display and made linear; 0 of all else.
    Side shownAboveHigh;
    Side shownBelowLow;

    /// Votes crowd somewhere, as those of flat surfaces do and of rounded things do not.
    [[nodiscard]] bool hasFlatSurfaces() const noexcept;

    DirectionEvidence direction;
    /// Where nothing is, as far as empty or even parts of the picture tell: 1 the largest number, -1 the
    /// smallest, and between them how much speaks for it.
    double emptySide = 0.0;
};

/// A picture of this width is looked at by every n-th pixel: n.
[[nodiscard]] int enoughDivisor(int width) noexcept;

/// `alpha` may be null; `statistics` are those of the two. Deterministic.
[[nodiscard]] ReadingEvidence evidenceOf(const Plane<float>& stored, const Plane<float>* alpha,
                                         const DepthStatistics& statistics, const ProposalHints& hints = {});

/// The gap rules that fit the numbers (without sign), for a reading that holds distances (`greys` false) or
/// greys.
[[nodiscard]] GapRules proposeGaps(const DepthStatistics& statistics, bool greys);

} // namespace retinex::depth
