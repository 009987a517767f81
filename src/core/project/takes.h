#pragma once

#include "core/project/project.h"

/// Takes: kept versions of the settings.
namespace retinex::project {

/// The present settings under a name; without a picture.
[[nodiscard]] Take takeOf(const Project& project, std::string name, int frame);
/// The project with the settings of a take in place of its own: shots with their marks, subjects, scene
/// scale.
[[nodiscard]] Project withTake(const Project& project, const Take& take);
/// "Take 3": the first number that no take's name has.
[[nodiscard]] std::string nameForTake(const Project& project);

} // namespace retinex::project
