#pragma once

#include "core/passes/mattes/mattes.h"
#include "core/passes/pass_choice.h"

#include <string>
#include <vector>

/// Sorting files that were brought in into their roles.
namespace retinex::passes {

enum class Role { colour, depth, colourAndDepth, matte, sceneFile, motionVectors };
[[nodiscard]] std::string_view
title(Role role) noexcept; ///< "colour pass", "depth pass", "colour and depth", ...

/// One file, with the role proposed for it and why.
struct RoleProposal
{
    std::filesystem::path file;
    Role role = Role::colour;
    std::string reason; ///< what it has: "three channels that differ", "one grey", ...
};

struct SortedPasses
{
    PassChoice colour;
    PassChoice depth; ///< an empty file means the colour pass's file
    std::vector<MatteChoice> mattes;
    std::filesystem::path sceneFile; ///< glTF; may be empty
    std::filesystem::path motion;    ///< a file of motion vectors; may be empty
    std::vector<RoleProposal> roles; ///< one per file

    /// Pictures that are neither, nor mattes: one is worked on at a time.
    [[nodiscard]] std::vector<std::filesystem::path> leftAside() const;
};

/// Sorts files (stills, or any one frame of a sequence) by the names of their channels, their file names and
/// their data: single or equal channels are depth or a matte (a matte holds little but 0 and 1), three that
/// differ are colour, unless the file is named after motion. Throws Error when no file holds colour, or none
/// depth.
[[nodiscard]] SortedPasses sortIntoRoles(const std::vector<std::filesystem::path>& files);

} // namespace retinex::passes
