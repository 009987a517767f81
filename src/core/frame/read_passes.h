#pragma once

#include "core/passes/pass_source.h"

/// First stage: the passes of a frame as their files have them, made safe.
namespace retinex::frame {

/// Kept by the source. Throws Error naming the file where one is missing or damaged, or Cancelled.
[[nodiscard]] passes::RawPassesPtr readPasses(const passes::PassSource& source, int frame,
                                              const Run& run = {});

} // namespace retinex::frame
