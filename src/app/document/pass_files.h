#pragma once

#include "core/passes/pass_roles.h"
#include "core/project/project.h"

#include <vector>

namespace retinex::app {

/// What each file is taken for in a project: those that were brought in (`known`), and any others it names.
[[nodiscard]] std::vector<passes::RoleProposal> presentRoles(const project::Project& project,
                                                             std::vector<passes::RoleProposal> known);

/// The project with one of these files in another role. What that file was, another one may become: there is
/// one colour and one depth pass. Throws Error as passes::sortIntoRoles does.
[[nodiscard]] project::Project withFileAs(const project::Project& project,
                                          std::vector<passes::RoleProposal> roles, std::size_t index,
                                          passes::Role role);

} // namespace retinex::app
