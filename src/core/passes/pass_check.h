#pragma once

#include "core/depth/reading_proposal.h"
#include "core/passes/pass_source.h"

#include <optional>
#include <stop_token>
#include <string>
#include <vector>

/// The pass check: what was brought in, looked at with a supervisor's eye.
namespace retinex::passes {

/// One thing that was found: what it is, what it means for the picture, how to render the pass better next
/// time.
struct Finding
{
    enum class Weight { note, trouble };
    std::string key; ///< "anti-aliased-depth": stable, for files and tests
    Weight weight = Weight::note;
    std::string matter;
    std::string meaning;
    std::string advice;
    friend bool operator==(const Finding&, const Finding&) = default;
};

/// Everything that is known of the passes of one frame.
struct PassAnalysis
{
    int frame = 1;
    depth::DepthStatistics statistics;
    depth::ReadingProposal proposal;
    /// Of the distances that the present reading gives.
    depth::DirectionEvidence direction;
    CameraData camera;
    std::vector<Finding> findings; ///< troubles first
};

/// Looks at one frame of a source, as `reading` reads it, or as proposed where that is absent. Throws Error
/// when the frame cannot be read, Cancelled when stopped.
[[nodiscard]] PassAnalysis analysePasses(const PassSource& source, int frame,
                                         const std::optional<depth::ReadingSettings>& reading,
                                         const std::stop_token& stop = {});

} // namespace retinex::passes
