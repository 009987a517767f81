#pragma once

#include "core/inserts/insert.h"
#include "core/project/settings/setting.h"

/// The settings of a backdrop or an insert, described once.
namespace retinex::project {

[[nodiscard]] const Description<inserts::Insert>& insertSettings();

} // namespace retinex::project
