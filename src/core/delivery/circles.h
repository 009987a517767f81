#pragma once

#include "core/project/project.h"

#include <string>
#include <vector>

/// Subjects and regions that hang on each other.
namespace retinex::delivery {

/// One sentence for each circle of subjects and regions ("face" is measured over the region "head", which
/// follows "face").
[[nodiscard]] std::vector<std::string> circles(const project::Project& project);

} // namespace retinex::delivery
