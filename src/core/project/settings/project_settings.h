#pragma once

#include "core/project/project.h"

/// Descriptions of what is set for a whole project, and of the plain parts of what it holds.
namespace retinex::project {

/// Passes, scene file, frames, scale.
[[nodiscard]] const Description<Project>& projectSettings();
/// Name, first frame and camera; the rest is shotSettings().
[[nodiscard]] const Description<Shot>& shotPlace();
/// Without its name, places and samples.
[[nodiscard]] const Description<timeline::Subject>& subjectSettings();
/// Without its name, shots and subjects.
[[nodiscard]] const Description<Take>& takeSettings();

/// The tables of docs/project-file.md: a row for each described setting of a project and of a shot.
[[nodiscard]] std::string settingsTable();

} // namespace retinex::project
