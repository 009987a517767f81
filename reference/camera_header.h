#pragma once

#include "core/passes/exr/exr_file.h"
#include "reference/tracer.h"

namespace retinex::reference {

/// A header as a renderer would write it: with `worldToNDC` and `worldToCamera` of a camera.
[[nodiscard]] passes::HeaderPtr headerOf(const Camera& camera);

} // namespace retinex::reference
