#pragma once

#include "core/passes/pass_source.h"
#include "core/project/project.h"

/// Second stage: stored depth becomes distances from the camera's plane, by the reading of the frame.
namespace retinex::frame {

/// The passes with their distances, kept by the source. Throws Error naming the file
/// where a pass is missing or damaged, or Cancelled.
[[nodiscard]] passes::FramePassesPtr withDistances(const passes::PassSource& source,
                                                   const project::Project& project, int frame,
                                                   const Run& run = {});
/// The distances alone, read anew where they are not kept, and not kept then. Throws likewise.
[[nodiscard]] depth::DistanceResult distancesAlone(const passes::PassSource& source,
                                                   const project::Project& project, int frame,
                                                   const Run& run = {});

} // namespace retinex::frame
