#pragma once

#include "core/project/project.h"

#include <filesystem>
#include <nlohmann/json.hpp>

/// NAME.retinex: JSON with a format number, stable key order and paths relative to the file where possible.
/// Described in docs/project-file.md.
namespace retinex::project {

constexpr int kFormat = 2;

/// A project and what else its file held: keys this version does not know survive a load and a save.
struct LoadedProject
{
    Project project;
    nlohmann::ordered_json document; ///< as read, brought to the present format
};

/// Throws Error naming the file and the field when it is missing, not JSON, of a newer format, or a value is
/// of the wrong kind or out of range.
[[nodiscard]] LoadedProject loadProject(const std::filesystem::path& file);

/// Writes atomically. `document` holds the unknown keys to keep (from loadProject, or empty).
void saveProject(const std::filesystem::path& file, const Project& project,
                 const nlohmann::ordered_json& document = {});

/// Where a render of the project writes its frames: `out`, or "NAME-frames" beside the file when that is
/// empty.
[[nodiscard]] std::filesystem::path framesFolder(const std::filesystem::path& file,
                                                 const std::filesystem::path& out);

} // namespace retinex::project
