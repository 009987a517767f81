#pragma once

#include "core/image/image.h"

#include <opencv2/core.hpp>

namespace retinex::bench {

/// A channel as pictures are compared (measure.h).
[[nodiscard]] cv::Mat toned(const Plane<float>& plane);

} // namespace retinex::bench
