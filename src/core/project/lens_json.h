#pragma once

#include "core/project/json_reader.h"
#include "core/project/project.h"

/// The parts of the project file that say how the picture is blurred: blur, simple lens, iris, glints, frame
/// edge. For this folder.
namespace retinex::project {

/// Fields that are absent keep what `project` has. Throws Error naming the field.
void readLens(const Reader& reader, Project& project);
/// Adds the fields to `json`; `file` is where it will be, for relative paths.
void writeLens(const fs::path& file, const Project& project, Json& json);

} // namespace retinex::project
