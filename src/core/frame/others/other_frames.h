#pragma once

#include "core/frame/others/other_cameras.h"
#include "core/frame/purpose.h"
#include "core/image/seen_behind.h"
#include "core/passes/pass_check.h"
#include "core/passes/pass_source.h"

#include <string>
#include <vector>

/// More than one view, for frames of a project: which others they look at, and what those show.
namespace retinex::frame {

class DependsOn;

/// The frames whose views of a frame's scene are worth a look, nearest first, all within its shot: spaced so
/// that what is nearest moves, against what lies at the focus distance or behind it, by about half its
/// own blur and by three times that blur, on both sides; for *far* by eight times it as well. They lie on
/// steps of one, two, four ... frames from the shot's first one, so that frames in order look at the same
/// ones. Empty where the project asks for none, and where no camera is told or it stands still.
[[nodiscard]] std::vector<int> chosenOthers(const passes::PassSource& source, const Project& project,
                                            int frame, const passes::FramePasses& passes,
                                            const Run& run = {});

/// What those show of what a frame hides (views/look_behind.h), as large as what goes through the lens; null
/// for nothing. Frames that are missing or damaged are done without; they are added to `unreadable`.
[[nodiscard]] SeenBehindPtr seenBehind(const passes::PassSource& source, const Project& project, int frame,
                                       const passes::FramePasses& passes, const Run& run,
                                       std::vector<int>* unreadable = nullptr);

/// What there is to say of a frame's other views.
struct OthersReport
{
    CameraFrom from = CameraFrom::nowhere;
    std::vector<int> frames;         ///< looked at
    std::vector<int> missing;        ///< those that could not be
    double agrees = 0.0;             ///< the best of them: share of what they show that fits
    bool fits = false;               ///< at least one fits
    std::optional<double> errorPx{}; ///< of cameras that were solved, the largest
    bool isUnsolved = false;         ///< they could not be, or were off by half a pixel or more
    std::optional<others::MotionProposal> vectors{}; ///< how motion vectors are read

    /// "solved from motion vectors, 0.04 px off: 4 frames looked at"; what the artist is told.
    [[nodiscard]] std::string inWords() const;
};
[[nodiscard]] OthersReport reportOthers(const passes::PassSource& source, const Project& project, int frame,
                                        const Run& run);

/// What of it belongs into a pass check: cameras that do not fit the pictures, frames done without, vectors
/// that cannot be read.
[[nodiscard]] std::vector<passes::Finding> othersFindings(const OthersReport& report, int frame);

/// The same for a whole run, once: "Frames 12-13 could not be looked at ..."; "" for none.
[[nodiscard]] std::string unreadableInWords(std::vector<int> frames);

/// All that a frame depends on where it looks at others: every one within reach, whichever of them are chosen
/// in the end.
void addOtherFrames(DependsOn& on);

} // namespace retinex::frame
