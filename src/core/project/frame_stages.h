#pragma once

#include "core/base/run.h"
#include "core/passes/pass_source.h"
#include "core/project/project.h"

/// The stages of a frame up to what goes into the lens: passes, distances, regions. Whoever looks at a frame
/// of a project (views, probe, profile, survey, subjects, the lens) looks at what the last of them gives.
namespace retinex::project {

/// What is looked at: the picture, or the distances that subjects are measured in, which patches with the
/// distance of a subject leave as they are.
enum class LookedAtFor { picture, subjects };

/// Throws Error as PassSource::load() does, or Cancelled.
[[nodiscard]] passes::FramePassesPtr framePasses(const passes::PassSource& source, const Project& project,
                                                 int frame, const Run& run = {});
/// The same at 1/divisor of the size, for a coarse picture.
[[nodiscard]] passes::FramePassesPtr reducedFramePasses(const passes::PassSource& source,
                                                        const Project& project, int frame, int divisor,
                                                        const Run& run = {});
/// Its distances alone, not kept.
[[nodiscard]] depth::DistanceResult frameDistance(const passes::PassSource& source, const Project& project,
                                                  int frame, const Run& run = {},
                                                  LookedAtFor what = LookedAtFor::picture);

} // namespace retinex::project
