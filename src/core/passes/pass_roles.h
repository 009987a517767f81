#pragma once

#include "core/passes/mattes/mattes.h"
#include "core/passes/pass_choice.h"

#include <string>
#include <vector>

/// Sorting files that were brought in into their roles.
namespace retinex::passes {

enum class Role { colour, depth, colourAndDepth, matte, alpha, motionVectors, sceneFile, none };
constexpr int kRoleCount = 8;
[[nodiscard]] std::string_view
title(Role role) noexcept; ///< "colour pass", "depth pass", "colour and depth", ...

/// One file, with the role proposed for it and why.
struct RoleProposal
{
    std::filesystem::path file; ///< a still or a pattern
    Role role = Role::colour;
    std::string reason;    ///< what it has: "three channels that differ", "one grey", ...
    bool isChosen = false; ///< by a person: the role stands
    int width = 0;         ///< px; 0 for what is no picture
    int height = 0;
};

struct SortedPasses
{
    PassChoice colour;
    PassChoice depth; ///< an empty file means the colour pass's file
    PassChoice alpha; ///< an empty file means the colour layer's own
    std::vector<MatteChoice> mattes;
    std::filesystem::path sceneFile; ///< glTF; may be empty
    std::filesystem::path motion;    ///< a file of motion vectors; may be empty
    std::vector<RoleProposal> roles; ///< one per file

    /// Pictures that have no part in it: one is worked on at a time.
    [[nodiscard]] std::vector<std::filesystem::path> leftAside() const;
};

/// What each file (a still, or any one frame of a sequence) may be, by the names of its channels, its own
/// name and its data: single or equal channels are depth or a matte (a matte holds little but 0 and 1), three
/// that differ are colour, unless the file is named after motion or alpha. Frames of one sequence are one
/// file.
[[nodiscard]] std::vector<RoleProposal> proposeRoles(const std::vector<std::filesystem::path>& files);

/// Puts them together. Of several colour and depth passes those that share name and size belong to each
/// other. Throws Error when no file holds colour.
[[nodiscard]] SortedPasses sortIntoRoles(std::vector<RoleProposal> roles);
[[nodiscard]] SortedPasses sortIntoRoles(const std::vector<std::filesystem::path>& files);

} // namespace retinex::passes
