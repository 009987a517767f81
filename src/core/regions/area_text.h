#pragma once

#include "core/regions/region.h"

#include <string>

/// Areas as text, for the project file.
namespace retinex::regions {

/// A list of pieces, as JSON.
[[nodiscard]] std::string toText(const Area& area);
/// Throws Error with what is wrong ("has a stroke whose radius is no number").
[[nodiscard]] Area areaFromText(const std::string& text);

} // namespace retinex::regions
