#pragma once

#include "core/project/project.h"

namespace retinex::frame {

using project::Project;
using project::Settings;
using project::Stage;

/// What is looked at: the picture, or the distances that subjects are measured in, which patches with the
/// distance of a subject leave as they are.
enum class Purpose { picture, subjects };

} // namespace retinex::frame
