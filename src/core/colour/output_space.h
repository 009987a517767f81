#pragma once

#include "core/image/image.h"
#include "core/system/run.h"

#include <string>
#include <vector>

namespace retinex::colour {

/// What pictures can be delivered in: the configuration's spaces, then "view NAME" for each view.
[[nodiscard]] std::vector<std::string> outputSpaces();

/// Converts scene-linear colour to `space` ("" or a scene-linear one changes nothing; "view NAME": as that
/// view shows it), in place, by the exact processor. Half transparent colour is divided by its alpha
/// meanwhile. Throws Error naming the space where the configuration does not have it.
void fromSceneLinear(RgbaImage& image, const std::string& space, const Run& run = {});

} // namespace retinex::colour
