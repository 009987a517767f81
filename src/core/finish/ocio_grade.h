#pragma once

#include "core/finish/finish_settings.h"

#include <OpenColorIO/OpenColorIO.h>

namespace retinex::finish {

/// All of a grade, one transform. For this folder only.
[[nodiscard]] OCIO_NAMESPACE::ConstTransformRcPtr gradeTransform(const Grade& grade);

} // namespace retinex::finish
