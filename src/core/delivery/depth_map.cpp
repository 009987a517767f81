#include "core/delivery/depth_map.h"

#include "core/system/error.h"
#include "core/system/say.h"

#include <algorithm>
#include <cmath>

namespace retinex::delivery {

Plane<float> depthMap(const Plane<float>& distance, const Plane<std::uint8_t>& gaps, const DepthMap& map)
{
    const bool isReciprocal = map.spacing == project::MapSpacing::reciprocal;
    if (!(map.nearest > 0.0) || !(map.farthest > map.nearest) || (!isReciprocal && std::isinf(map.farthest)))
        throw Error(
            say("A depth map runs from {:g} to {:g}: the nearest end is above 0 and before the farthest one, "
                "which is infinite only where it is even in 1/distance. Give other ends.",
                map.nearest, map.farthest));
    Plane<float> result(distance.width(), distance.height());
    const double span = isReciprocal ? 1.0 / map.nearest - 1.0 / map.farthest : map.farthest - map.nearest;
    for (std::size_t i = 0; i < distance.size(); ++i) {
        const auto d = static_cast<double>(distance.pixels()[i]);
        double t = 1.0;
        if (gaps.pixels()[i] == 0 && d > 0.0)
            t = std::clamp((isReciprocal ? 1.0 / map.nearest - 1.0 / d : d - map.nearest) / span, 0.0, 1.0);
        result.pixels()[i] = static_cast<float>(map.nearIsBright ? 1.0 - t : t);
    }
    return result;
}

} // namespace retinex::delivery
