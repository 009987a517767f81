#pragma once

#include "bench/reading_scenes.h"
#include "core/depth/reading_proposal.h"

#include <array>
#include <functional>
#include <string>
#include <vector>

/// Depth passes as renderers write them: scenes in many conventions, for measuring the proposal of a reading.
/// Judged is what comes out: distances, or for greys (whose ends no pass tells) their order.
namespace retinex::bench {

struct ReadingTrial
{
    ReadingScenePtr scene;
    std::string convention;
    bool isMetric = false; ///< the numbers are distances in some form, not greys between unknown ends
    double unit = 1.0;     ///< stored units in one of the scene's
    Plane<float> stored;
    Plane<float> alpha; ///< empty: the pass came without

    [[nodiscard]] depth::ReadingProposal propose() const;
    /// Distances within 3 % of the truth at nine of ten surface pixels; of greys 97 of 100 pairs of pixels in
    /// order; and nothing is not nearer than what is there.
    [[nodiscard]] bool isRight(const depth::ReadingSettings& settings) const;
};

/// Every convention for one scene.
[[nodiscard]] std::vector<ReadingTrial> readingTrials(const ReadingScenePtr& scene);

struct ReadingScore
{
    struct Kind
    {
        int trials = 0;
        int right = 0;
        int wrongAndSure = 0;
    };
    Kind metric;
    Kind grey;
    /// By confidence in tenths: trials and right ones.
    std::array<std::pair<int, int>, 10> byConfidence{};

    void add(const ReadingTrial& trial, const depth::ReadingProposal& proposal, bool right);
    [[nodiscard]] int trials() const { return metric.trials + grey.trials; }
    [[nodiscard]] int wrongAndSure() const { return metric.wrongAndSure + grey.wrongAndSure; }
    void print() const;
};

/// Every trial as files, to be opened: NAME/NUMBER/colour.exr beside depth.exr, or .png where the numbers are
/// whole.
void writeTrials(const ReadingScenePtr& scene, const std::filesystem::path& folder);

/// Prints a row each and adds to the score.
void tryReadings(const ReadingScenePtr& scene, bool onlyWrong, ReadingScore& score);

} // namespace retinex::bench
