#pragma once

#include "core/project/project.h"

#include <filesystem>

/// NAME.retinex: JSON with a format number, stable key order and paths relative to the file where possible.
/// Described in docs/project-file.md. What a version does not know is kept with the item it belongs to
/// (`unknown` of project, shot, take, subject, mark and matte) and written again.
namespace retinex::project {

constexpr int kFormat = 3;

/// Throws Error naming the file and the field when it is missing, not JSON, of a newer format, or a value is
/// of the wrong kind. A value out of range is put right, so that work is never out of reach: `putRight`,
/// where given, receives a line for each. Files that it names need not be there: see missing_files.h.
[[nodiscard]] Project loadProject(const std::filesystem::path& file,
                                  std::vector<std::string>* putRight = nullptr);
/// Those lines as one sentence that names the file; "" without any.
[[nodiscard]] std::string putRightNotice(const std::filesystem::path& file,
                                         const std::vector<std::string>& putRight);

/// The file's text. Loading and saving again gives the same text.
[[nodiscard]] std::string projectText(const std::filesystem::path& file, const Project& project);
/// Writes it whole or not at all.
void saveProject(const std::filesystem::path& file, const Project& project);

/// Where a render of the project writes its frames: `out`, or "NAME-frames" beside the file when that is
/// empty.
[[nodiscard]] std::filesystem::path framesFolder(const std::filesystem::path& file,
                                                 const std::filesystem::path& out);

} // namespace retinex::project
