#pragma once

#include "core/defocus/defocus.h"

namespace retinex::defocus {

/// How far light of a picture is spread at most, px.
struct Reach
{
    int x = 0;
    int y = 0;
};
[[nodiscard]] Reach reachOf(const LensInput& input, const LensSettings& settings, const Run& run);

} // namespace retinex::defocus
