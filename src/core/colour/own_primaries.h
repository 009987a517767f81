#pragma once

#include "core/colour/primaries.h"

#include <OpenColorIO/OpenColorIO.h>

/// Spaces that are named by their primaries. For this folder.
namespace retinex::colour {

/// Nothing for any other space.
[[nodiscard]] std::optional<Primaries> ownPrimaries(const std::string& space);
/// To the configuration's scene-linear space.
[[nodiscard]] OCIO_NAMESPACE::ConstTransformRcPtr fromOwnPrimaries(const Primaries& primaries);

} // namespace retinex::colour
