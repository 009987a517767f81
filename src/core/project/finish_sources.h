#pragma once

#include "core/finish/finish.h"
#include "core/passes/pass_source.h"
#include "core/project/project.h"

/// Finish of a frame: its steps, and what they take besides the picture.
namespace retinex::project {

/// The steps with their values on a frame; sizes for a picture at 1/divisor.
[[nodiscard]] finish::Steps stepsOn(const Project& project, double frame, int divisor = 1);

/// Masks of glows and the grain plate, for the frame at 1/divisor. Throws Error naming the matte, the region
/// or the file that is not there.
[[nodiscard]] finish::Sources finishSources(const passes::PassSource& source, const Project& project,
                                            int frame, const finish::Steps& steps, int divisor,
                                            const Run& run);

/// What finish depends on besides its settings: files, where regions lie, the frame where there is grain.
[[nodiscard]] std::string finishPlaces(const Project& project, int frame);

/// Throws Error naming the first thing that hinders the finish of a frame: a look file, a plate, a name.
void checkFinish(const passes::PassSource& source, const Project& project, int frame);

} // namespace retinex::project
