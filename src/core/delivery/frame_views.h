#pragma once

#include "core/base/seen_behind.h"
#include "core/passes/pass_check.h"
#include "core/passes/pass_source.h"
#include "core/project/project.h"

#include <string>
#include <vector>

namespace retinex::delivery {

/// Whether a source's files tell where its frames were seen from: told by the first one.
[[nodiscard]] bool tellsCameras(const passes::PassSource& source);

/// The frames whose views of a frame's scene are worth a look, nearest first, all within its shot: spaced so
/// that what is nearest moves, against what lies at the focus distance or behind it, by about its own blur
/// and by three times that, on both sides; for *far* by eight times as well. Empty where the project asks for
/// none, and where the files tell no camera or it stands still.
[[nodiscard]] std::vector<int> viewedFrames(const passes::PassSource& source, const project::Project& project,
                                            int frame, const passes::FramePasses& passes);

/// What those show of what a frame hides (views/look_behind.h), as large as what goes through the lens; null
/// for nothing. Frames that are missing or damaged are done without.
[[nodiscard]] SeenBehindPtr seenBehind(const passes::PassSource& source, const project::Project& project,
                                       int frame, const passes::FramePasses& passes, const Run& run);

/// Whether cameras fit the pictures of the frames that one looks at; nothing where they do, or none is looked
/// at.
[[nodiscard]] std::optional<passes::Finding>
viewsFinding(const passes::PassSource& source, const project::Project& project, int frame, const Run& run);

/// In which state the files are that it may be made from; "" where there are none.
[[nodiscard]] std::string viewsState(const passes::PassSource& source, const project::Project& project,
                                     int frame);

} // namespace retinex::delivery
