#pragma once

#include "core/project/file/json_reader.h"

/// Bringing older formats of the project file up to the present one, a step at a time. For this folder.
namespace retinex::project {

/// `document` has a format from 1 to the present one. Throws Error naming the field.
void migrate(const fs::path& file, Json& document);

} // namespace retinex::project
