#pragma once

#include "core/project/project.h"

namespace retinex::delivery {

/// The frames of a list, rising: parts "7", "1-24", "40-48x2" (every second one), "shot NAME", "in-out" (as
/// played), "marks" (every frame that has one), separated by ","; "" are all that are worked on. Throws Error
/// naming the part that does not fit, or frames that the project does not have.
[[nodiscard]] std::vector<int> framesIn(const std::string& list, const project::Project& project);
/// Those of a delivery, which an Error names too.
[[nodiscard]] std::vector<int> framesOf(const project::Delivery& delivery, const project::Project& project);

} // namespace retinex::delivery
