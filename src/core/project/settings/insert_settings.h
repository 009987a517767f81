#pragma once

#include "core/layers/insert.h"
#include "core/project/settings/setting.h"

/// The settings of a backdrop or an insert, described once.
namespace retinex::project {

[[nodiscard]] const Description<layers::Insert>& insertSettings();

} // namespace retinex::project
