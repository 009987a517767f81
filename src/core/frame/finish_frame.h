#pragma once

#include "core/finish/finish.h"
#include "core/frame/purpose.h"
#include "core/passes/pass_source.h"

/// Last stage: the finish of a frame, its steps and what they take besides the picture.
namespace retinex::frame {

/// The steps with their values on a frame; sizes for a picture at 1/divisor.
[[nodiscard]] finish::Steps stepsOn(const Project& project, double frame, int divisor = 1);

/// Masks of glows and the grain plate, for the frame at 1/divisor. Throws Error naming the matte, the region
/// or the file that is not there.
[[nodiscard]] finish::Sources finishSources(const passes::PassSource& source, const Project& project,
                                            int frame, const finish::Steps& steps, int divisor,
                                            const Run& run);

/// Throws Error naming the first thing that hinders the finish of a frame: a look file, a plate, a name.
void checkFinish(const passes::PassSource& source, const Project& project, int frame);

} // namespace retinex::frame
