#pragma once

#include "core/frame/purpose.h"
#include "core/passes/pass_source.h"
#include "core/passes/scene/scene_file.h"
#include "core/system/run.h"

/// A subject's distance on every frame of a project.
namespace retinex::frame {

/// From the depth pass, shot by shot: on every frame of the shots in which the subject has a place, or, where
/// it is measured over a region, of those that have a region of that name: the median under its area, after
/// all regions, so that a patch's distance is what is found. Frames
/// that cannot be read count as hidden. Progress by frames. Throws Cancelled.
[[nodiscard]] SharedList<timeline::Sample> measuredSamples(const Project& project,
                                                           const timeline::Subject& subject,
                                                           const passes::PassSource& source,
                                                           const Run& run = {});

/// Of a point of the scene file: its exact distance from the camera's plane, on the frames on which it lies
/// in front of the camera. Throws Error naming the point or the camera that is not there.
[[nodiscard]] SharedList<timeline::Sample>
sceneSamples(const Project& project, const timeline::Subject& subject, const passes::SceneFile& scene);

/// Where a subject is seen on a frame, px: its place, or where the scene's camera sees its point (`scene` may
/// be null).
[[nodiscard]] std::optional<timeline::Place> seenPlace(const Project& project,
                                                       const timeline::Subject& subject, int frame,
                                                       const passes::SceneFile* scene, double frameWidth,
                                                       double frameHeight);

/// Measures the subjects whose samples are not those of the project as it is; with `boundOnly` only those
/// that a mark is bound to. Returns their names. Throws Error or Cancelled.
std::vector<std::string> measureSubjects(Project& project, const passes::PassSource& source, bool boundOnly,
                                         const Run& run = {});

} // namespace retinex::frame
