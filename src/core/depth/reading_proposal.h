#pragma once

#include "core/depth/depth_reading.h"
#include "core/depth/depth_statistics.h"
#include "core/depth/direction_check.h"

#include <string>
#include <vector>

/// Proposing how a depth pass is to be read, from its numbers, with the reasons in words.
namespace retinex::depth {

struct ProposalHints
{
    double fieldOfViewDeg = 0.0; ///< across the width, where a file says so; 0: not known
    double pixelAspect = 1.0;
    ViewGeometry view(const Plane<float>& stored) const;
};

struct ReadingProposal
{
    ReadingSettings settings; ///< reading, gaps and mending
    double confidence = 0.0;  ///< 0..1; it is the chance that the reading is right
    bool scaleKnown = false;  ///< the numbers are distances themselves, not greys between unknown ends
    /// farthest / nearest of a grey, where flat surfaces tell it; 0: not known, and the ends are a guess.
    double endsRatio = 0.0;
    std::vector<std::string> reasons;

    /// Below this the proposal is shown as unsure.
    static constexpr double sureFrom = 0.7;
    [[nodiscard]] bool isSure() const noexcept { return confidence >= sureFrom; }
    /// "distance from camera plane, sure: values 1.8 to 24.1; gaps where alpha is 0".
    [[nodiscard]] std::string inWords() const;
};

/// A picture of this width is looked at by every n-th pixel: n.
[[nodiscard]] int enoughDivisor(int width) noexcept;

/// `alpha` may be null. Deterministic.
[[nodiscard]] ReadingProposal proposeReading(const Plane<float>& stored, const Plane<float>* alpha,
                                             const DepthStatistics& statistics,
                                             const ProposalHints& hints = {});

/// The gap rules that fit the numbers, for a reading that holds distances (`greys` false) or greys.
[[nodiscard]] GapRules proposeGaps(const DepthStatistics& statistics, bool greys);

} // namespace retinex::depth
