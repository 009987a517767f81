#pragma once

#include "core/image/image.h"

#include <array>

namespace retinex {

/// Both channels of a motion vector pass, as stored; NaN where there is none.
using MotionVectors = std::array<Plane<float>, 2>;

} // namespace retinex
