#pragma once

#include "core/project/project.h"

#include <functional>

/// Files that a project names and that are not there, and how they are found again.
namespace retinex::project {

struct MissingFile
{
    std::string what;           ///< "colour pass", "iris from a picture (take \"wide open\")"
    std::filesystem::path file; ///< as the project names it: a still, one frame or a pattern
    friend bool operator==(const MissingFile&, const MissingFile&) = default;
};

/// Passes, alpha, mattes, scene file, iris pictures, also those of takes; each file once. One that is there
/// but cannot be read as an iris picture counts as missing.
[[nodiscard]] std::vector<MissingFile> missingFiles(const Project& project);

/// Looks in `folder` and below for what is missing, by name, and names it anew in `project`, takes too. Files
/// that lay beside each other and are found there count first. Returns what was not found.
std::vector<MissingFile> findAgain(Project& project, const std::filesystem::path& folder);

} // namespace retinex::project
