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

double largestRadius(const Plane<float>& distance, const LensSettings& settings, const Run& run)
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
    return rows.empty() ? 0.0 : *std::max_element(rows.begin(), rows.end());
}

double largestRadius(const LensLayer& layer, const LensSettings& settings)
{
    const BlurModel model = settings.blurModel(layer.distance.width());
    double largest = 0.0;
    float last = -1.0F;
    for (std::size_t i = 0; i < layer.distance.size(); ++i) {
        const float distance = layer.distance.pixels()[i];
        if (layer.colour.plane(3).pixels()[i] <= 0.0F || distance == last) continue;
        largest = std::max(largest, std::abs(model.radiusPx(static_cast<double>(distance))));
        last = distance;
    }
    return largest;
}

double largestRadius(const DeepPicture& deep, const LensSettings& settings)
{
    const BlurModel model = settings.blurModel(deep.width);
    double largest = std::abs(model.radiusPx(std::numeric_limits<double>::infinity()));
    for (const auto& sample : deep.samples) {
        largest = std::max(largest, std::abs(model.radiusPx(static_cast<double>(sample.depth))));
        if (sample.isVolume())
            largest = std::max(largest, std::abs(model.radiusPx(static_cast<double>(sample.back))));
    }
    return largest;
}

} // namespace

Reach reachOf(const LensInput& input, const LensSettings& settings, const Run& run)
{
    double largest = input.isDeep() ? largestRadius(input.deep(), settings)
                                    : largestRadius(input.distance(), settings, run);
    if (input.layers()) {
        // Behind all is nothing, as far away as there is.
        const BlurModel model = settings.blurModel(input.width());
        largest = std::max(largest, std::abs(model.radiusPx(std::numeric_limits<double>::infinity())));
        for (const LensLayer& layer : *input.layers())
            largest = std::max(
                largest, std::hypot(largestRadius(layer, settings), static_cast<double>(layer.addedPx)));
    }
    if (const BlurShare* blur = input.blurShare(); blur && !blur->share.empty()) {
        const auto most = [](const Plane<float>& plane) {
            return static_cast<double>(*std::max_element(plane.pixels().begin(), plane.pixels().end()));
        };
        largest = std::hypot(largest * most(blur->share), most(blur->addedPx));
    }
    return reachOfRadius(largest, settings);
}

} // namespace retinex::defocus
