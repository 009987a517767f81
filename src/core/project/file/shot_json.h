#pragma once

#include "core/project/file/json_reader.h"
#include "core/project/project.h"

/// A shot's and the subjects' part of the project file. For this folder.
namespace retinex::project {

/// `reader` stands at the shot. Fields that are not there keep their value.
void readShot(const Reader& reader, Shot& shot);
/// `file` is where it will be, for relative paths.
[[nodiscard]] Json toJson(const fs::path& file, const Shot& shot);
[[nodiscard]] Json toJson(const Tracks& tracks);

void readSubjects(const Reader& reader, std::vector<timeline::Subject>& subjects);
[[nodiscard]] Json toJson(const timeline::Subject& subject);

} // namespace retinex::project
