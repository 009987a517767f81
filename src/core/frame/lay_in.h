#pragma once

#include "core/frame/purpose.h"
#include "core/passes/pass_source.h"
#include "core/system/run.h"

/// Fourth stage: backdrop and inserts are laid into a frame. What comes out is what every view looks at, and
/// what goes through the lens.
namespace retinex::frame {

/// Passes after regions and inserts, kept by the source. Throws Error naming the file where something cannot
/// be read, or Cancelled.
[[nodiscard]] passes::FramePassesPtr framePasses(const passes::PassSource& source, const Project& project,
                                                 int frame, const Run& run = {});
/// The same at 1/divisor of the size, for a coarse picture.
[[nodiscard]] passes::FramePassesPtr reducedFramePasses(const passes::PassSource& source,
                                                        const Project& project, int frame, int divisor,
                                                        const Run& run = {});
/// Its distances alone, not kept.
[[nodiscard]] depth::DistanceResult frameDistance(const passes::PassSource& source, const Project& project,
                                                  int frame, const Run& run = {},
                                                  Purpose purpose = Purpose::picture);

} // namespace retinex::frame
