#pragma once

#include "core/base/run.h"
#include "core/layers/placing.h"
#include "core/passes/pass_source.h"
#include "core/project/frame_stages.h"

/// Backdrop and inserts of a frame, laid into it.
namespace retinex::project {

/// Whether any is there on a frame.
[[nodiscard]] bool hasInserts(const Project& project, int frame);

/// Passes (after regions; at 1/divisor of the size) with what is laid in. Throws Error naming the file where
/// one cannot be read.
[[nodiscard]] passes::FramePassesPtr withInserts(const passes::PassSource& source, const Project& project,
                                                 int frame, const passes::FramePassesPtr& passes, int divisor,
                                                 const Run& run, LookedAtFor what = LookedAtFor::picture);

/// The corners of one as they lie on a frame; throws Error where its file cannot be read.
[[nodiscard]] std::array<layers::Point, 4> insertCorners(const passes::PassSource& source,
                                                         const Project& project, const layers::Insert& insert,
                                                         int frame);

struct InsertProblem
{
    std::string id;
    std::string name;
    std::string what; ///< the end of a sentence that begins with its name
};
/// What hinders those of a frame: files, subjects, mattes, corners. Reads no more than headers.
[[nodiscard]] std::vector<InsertProblem> insertProblems(const passes::PassSource& source,
                                                        const Project& project, int frame);

/// "" or why the backdrop of a frame is seen nowhere, and where that is put right.
[[nodiscard]] std::string backdropNotice(const passes::PassSource& source, const Project& project, int frame);

/// Throws Error naming the first of those.
void checkInserts(const passes::PassSource& source, const Project& project, int frame);

/// What inserts depend on besides their settings: where subjects are, and files.
[[nodiscard]] std::string insertPlaces(const Project& project, int frame);

} // namespace retinex::project
