#pragma once

#include "core/project/delivery.h"
#include "core/project/settings/setting.h"

namespace retinex::project {

/// The settings of a delivery, described once.
[[nodiscard]] const Description<Delivery>& deliverySettings();

} // namespace retinex::project
