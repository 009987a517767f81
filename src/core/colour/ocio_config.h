#pragma once

#include <OpenColorIO/OpenColorIO.h>

namespace retinex::colour {

/// The studio's configuration where the OCIO environment variable names one, the shipped one otherwise. For
/// this folder and finish only. Throws Error.
[[nodiscard]] OCIO_NAMESPACE::ConstConfigRcPtr loadConfig();

} // namespace retinex::colour
