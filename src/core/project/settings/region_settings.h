#pragma once

#include "core/project/settings/setting.h"
#include "core/regions/region.h"

namespace retinex::project {

/// The settings of a region, in working order.
[[nodiscard]] const Description<regions::Region>& regionSettings();

} // namespace retinex::project
