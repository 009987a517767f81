#include "core/defocus/reach.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace retinex::defocus {

namespace {

Reach reachOfRadius(double largest, const LensSettings& settings)
{
    const double reach = largest * optics::irisReach(settings.iris) + 2.0;
    return {static_cast<int>(std::ceil(reach / (settings.iris.squeeze * settings.pixelAspect))),
            static_cast<int>(std::ceil(reach))};
}

} // namespace

Reach reachOf(const Plane<float>& distance, const LensSettings& settings, const Run& run)
{
    const BlurModel model = settings.blurModel(distance.width());
    std::vector<double> rows(static_cast<std::size_t>(distance.height()));
    parallelFor(distance.height(), {run.threads, {}, run.stop}, [&](int y) {
        // The blur has its largest values at the ends of a range of distances.
        const float* row = distance.row(y);
        const auto [nearest, farthest] = std::minmax_element(row, row + distance.width());
        rows[static_cast<std::size_t>(y)] =
            std::max(std::abs(model.radiusPx(static_cast<double>(*nearest))),
                     std::abs(model.radiusPx(static_cast<double>(*farthest))));
    });
    return reachOfRadius(rows.empty() ? 0.0 : *std::max_element(rows.begin(), rows.end()), settings);
}

Reach reachOf(const DeepPicture& deep, const LensSettings& settings)
{
    const BlurModel model = settings.blurModel(deep.width);
    double largest = std::abs(model.radiusPx(std::numeric_limits<double>::infinity()));
    for (const auto& sample : deep.samples) {
        largest = std::max(largest, std::abs(model.radiusPx(static_cast<double>(sample.depth))));
        if (sample.isVolume())
            largest = std::max(largest, std::abs(model.radiusPx(static_cast<double>(sample.back))));
    }
    return reachOfRadius(largest, settings);
}

} // namespace retinex::defocus
