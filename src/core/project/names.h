#pragma once

#include "core/project/project.h"

/// Names that other settings go by: a new name goes to all of them.
namespace retinex::project {

/// Marks, regions that follow it, points that lie on it and patches with its distance go on with it.
void renameSubject(Project& project, const std::string& from, const std::string& to);

/// A region of one shot. Subjects that are measured over it go on with it, unless another shot has a region
/// of the old name.
void renameRegion(Project& project, std::size_t shot, const std::string& id, const std::string& to);

/// Those of all subjects, in their order.
[[nodiscard]] std::vector<std::string> subjectNames(const Project& project);

} // namespace retinex::project
