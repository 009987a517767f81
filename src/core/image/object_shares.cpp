#include "core/image/object_shares.h"

#include <algorithm>

namespace retinex {

ObjectShares objectSharesOf(std::span<const ObjectCoverage> coverages)
{
    ObjectShares result;
    result.width = coverages.front().coverage.width();
    result.height = coverages.front().coverage.height();
    const std::size_t pixels = coverages.front().coverage.size();
    result.first.reserve(pixels + 1);
    result.samples.reserve(pixels);
    for (std::size_t i = 0; i < pixels; ++i) {
        result.first.push_back(result.samples.size());
        for (const ObjectCoverage& each : coverages) {
            const float coverage = each.coverage.pixels()[i];
            const std::uint32_t object = each.objects.empty() ? each.object : each.objects.pixels()[i];
            if (object == 0 || !(coverage > 0.0F)) continue;
            const auto first = result.samples.begin() + static_cast<std::ptrdiff_t>(result.first.back());
            const auto it = std::find_if(first, result.samples.end(),
                                         [&](const ObjectShare& share) { return share.object == object; });
            if (it == result.samples.end())
                result.samples.push_back({object, std::min(coverage, 1.0F)});
            else
                it->coverage = std::min(it->coverage + coverage, 1.0F);
        }
    }
    result.first.push_back(result.samples.size());
    return result;
}

Plane<float> coverageOf(const ObjectShares& objects, std::uint32_t object)
{
    Plane<float> coverage(objects.width, objects.height);
    for (std::size_t i = 0; i < coverage.size(); ++i)
        for (std::size_t s = objects.first[i]; s < objects.first[i + 1]; ++s)
            if (object == 0 || objects.samples[s].object == object)
                coverage.pixels()[i] = std::min(1.0F, coverage.pixels()[i] + objects.samples[s].coverage);
    return coverage;
}

} // namespace retinex
