#pragma once

#include "core/frame/places/region_places.h"

/// Third stage: regions change the distances of a frame, its gaps, and what the lens makes of it.
namespace retinex::frame {

/// Passes after regions, with all that the files hold; kept by the source. Throws Error as withDistances()
/// does and where something that a region hangs on cannot be read, or Cancelled.
[[nodiscard]] passes::FramePassesPtr afterRegions(const passes::PassSource& source, const Project& project,
                                                  int frame, const Run& run = {});
/// The same at 1/divisor of the size, quickly: only what is picked is changed.
[[nodiscard]] passes::FramePassesPtr reducedAfterRegions(const passes::PassSource& source,
                                                         const Project& project, int frame, int divisor,
                                                         const Run& run = {});
/// Distances and gaps after regions, of the frame alone; not kept.
[[nodiscard]] depth::DistanceResult distancesAfterRegions(const passes::PassSource& source,
                                                          const Project& project, int frame, const Run& run,
                                                          Purpose purpose);

} // namespace retinex::frame
