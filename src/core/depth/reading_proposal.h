#pragma once

#include "core/depth/reading_evidence.h"

#include <string>
#include <vector>

/// Proposing how a depth pass is to be read, from its numbers, with the reasons in words.
namespace retinex::depth {

/// A way to read a pass, and how likely it is to be the right one.
struct LikelyReading
{
    ReadingSettings settings; ///< reading, gaps and mending
    double likelihood = 0.0;  ///< 0..1
};

struct ReadingProposal
{
    ReadingSettings settings; ///< the likeliest
    double confidence = 0.0;  ///< 0..1; it is the chance that the reading is right
    bool scaleKnown = false;  ///< the numbers are distances themselves, not greys between unknown ends
    /// farthest / nearest of a grey, where flat surfaces tell it; 0: not known, and the ends are a guess.
    double endsRatio = 0.0;
    std::vector<std::string> reasons;
    /// The likeliest readings, that above first; at most three, and none that differs in nothing that shows.
    std::vector<LikelyReading> likely;

    /// Below this the proposal is shown as unsure.
    static constexpr double sureFrom = 0.8;
    [[nodiscard]] bool isSure() const noexcept { return confidence >= sureFrom; }
    /// Whether `reading` is this proposal, whatever ends the artist looks at it with.
    [[nodiscard]] bool isTakenBy(const ReadingSettings& reading) const noexcept;
    /// "distance from camera plane, sure: values 1.8 to 24.1; gaps where alpha is 0".
    [[nodiscard]] std::string inWords() const;
};

/// A reading as a person would say it: "grey, near is bright, even in 1/distance", "distance from camera
/// plane, reversed".
[[nodiscard]] std::string inWords(const ReadingSettings& settings);

/// `alpha` may be null. Deterministic.
[[nodiscard]] ReadingProposal proposeReading(const Plane<float>& stored, const Plane<float>* alpha,
                                             const DepthStatistics& statistics,
                                             const ProposalHints& hints = {});
/// The same from what was found.
[[nodiscard]] ReadingProposal proposeReading(const ReadingEvidence& evidence);

} // namespace retinex::depth
