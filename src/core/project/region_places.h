#pragma once

#include "core/base/run.h"
#include "core/passes/pass_source.h"
#include "core/project/frame_stages.h"
#include "core/regions/apply.h"

#include <set>
#include <string>

/// Regions of a frame, laid onto it.
namespace retinex::project {

/// Whether any region of the frame does something.
[[nodiscard]] bool hasRegions(const Project& project, int frame);

/// Those that are on, with their values of the frame, where they lie and the distances that they put in
/// place, as far as these are known. What is not there or not seen stands in `problems` of each. Throws Error
/// where the scene file or the frame of a held median cannot be read.
[[nodiscard]] std::vector<regions::PlacedRegion> regionsAt(const passes::PassSource& source,
                                                           const Project& project, int frame, const Run& run,
                                                           LookedAtFor what = LookedAtFor::picture);

/// Throws Error naming the first region of a frame that hangs on something that is not there: a subject, a
/// matte.
void checkRegions(const passes::PassSource& source, const Project& project, int frame);

/// Of one region, on or not; throws Error where the scene file cannot be read.
[[nodiscard]] regions::PlacedRegion placedRegion(const passes::PassSource& source, const Project& project,
                                                 const regions::Region& region, int frame);
/// Where what is drawn in it comes to lie on a frame. Throws likewise.
[[nodiscard]] regions::Homography regionPlacement(const passes::PassSource& source, const Project& project,
                                                  const regions::Region& region, int frame);
/// Its area on a frame, as large as the frame; by the distances before regions. Throws as reading does.
[[nodiscard]] Plane<float> regionCoverage(const passes::PassSource& source, const Project& project,
                                          const regions::PlacedRegion& region, int frame, const Run& run);

/// Distances and gaps after regions, flat, without what lies beyond the frame.
void applyRegions(const passes::PassSource& source, const Project& project, int frame,
                  depth::DistanceResult& distances, const Run& run, LookedAtFor what);
/// Passes after regions; with all that the files hold.
[[nodiscard]] passes::FramePassesPtr withRegions(const passes::PassSource& source, const Project& project,
                                                 int frame, const passes::FramePassesPtr& passes,
                                                 const Run& run);

/// The same at 1/divisor of the size (see PassSource::reducedOf), quickly: only what is picked is changed.
/// `full` is before regions.
[[nodiscard]] passes::FramePassesPtr withRegionsReduced(const passes::PassSource& source,
                                                        const Project& project, int frame,
                                                        const passes::FramePassesPtr& full, int divisor,
                                                        const Run& run);

/// The subjects that a region's place hangs on.
[[nodiscard]] std::set<std::string> placingSubjects(const regions::Region& region);

/// Where the subjects are that place a region.
[[nodiscard]] std::string placesOf(const Project& project, const regions::Region& region, int frame);

/// What regions depend on besides their settings: where subjects are, and files.
[[nodiscard]] std::string regionPlaces(const Project& project, int frame);

} // namespace retinex::project
