#pragma once

#include "core/optics/iris.h"

#include <filesystem>

namespace retinex::passes {

/// An iris from an image file of any format: the luminance (or the only channel) of its first layer, as
/// stored, brought down to 128 px at most. Dark is closed, bright is open. Throws Error naming the file when
/// it cannot be read or is dark all over.
[[nodiscard]] optics::IrisPicture readIrisPicture(const std::filesystem::path& file);

} // namespace retinex::passes
