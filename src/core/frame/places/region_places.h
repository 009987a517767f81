#pragma once

#include "core/frame/purpose.h"
#include "core/passes/pass_source.h"
#include "core/regions/apply.h"
#include "core/system/run.h"

#include <set>
#include <string>

/// Where regions lie on a frame, what they cover, and what they depend on.
namespace retinex::frame {

class DependsOn;

/// Whether it does something to distances or to the blur.
[[nodiscard]] bool countsHere(const regions::Region& region);
/// Whether any region of the frame does something.
[[nodiscard]] bool hasRegions(const Project& project, int frame);

/// Those that are on, with their values of the frame, where they lie and the distances that they put in
/// place, as far as these are known. What is not there or not seen stands in `problems` of each. Throws Error
/// where the scene file or the frame of a held median cannot be read.
[[nodiscard]] std::vector<regions::PlacedRegion> regionsAt(const passes::PassSource& source,
                                                           const Project& project, int frame, const Run& run,
                                                           Purpose purpose = Purpose::picture);

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

/// The subjects that a region's place hangs on.
[[nodiscard]] std::set<std::string> placingSubjects(const regions::Region& region);

/// What the project's mattes cover of a box: the frame, or all that its passes hold.
[[nodiscard]] regions::MatteCoverage matteCoverage(const passes::PassSource& source, const Project& project,
                                                   int frame, const PixelBox& box, const Run& run);

/// Where the subjects are that place a region, as text; the scene file among what it depends on.
[[nodiscard]] std::string placesOf(DependsOn& on, const regions::Region& region, int frame);
/// Those of the project that a region's area takes.
[[nodiscard]] std::vector<passes::MatteChoice> mattesOf(const Project& project,
                                                        const regions::Region& region);
/// The titles that none of the project's mattes has.
[[nodiscard]] std::vector<std::string> titlesNotIn(const Project& project,
                                                   const std::vector<std::string>& titles);
/// All that a region's area depends on besides its settings.
void addArea(DependsOn& on, const regions::Region& region);

} // namespace retinex::frame
