#pragma once

#include "reference/scenes.h"

namespace retinex::reference {

/// Small lamps on a dark, faintly patterned wall, some in front of the focal plane and some far behind it,
/// out to the corners: what shows the shape of an iris.
[[nodiscard]] Trial lampField(const optics::Iris& iris);

} // namespace retinex::reference
