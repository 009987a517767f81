#include "core/inserts/over.h"

#include "core/inserts/blend.h"

#include <algorithm>
#include <cmath>

namespace retinex::inserts {

namespace {

Pixel pixelAt(const RgbaImage& image, int x, int y) noexcept
{
    return {image.plane(0).at(x, y), image.plane(1).at(x, y), image.plane(2).at(x, y),
            image.plane(3).at(x, y)};
}

void setPixel(RgbaImage& image, int x, int y, const Pixel& pixel) noexcept
{
    for (int c = 0; c < 4; ++c)
        image.plane(c).at(x, y) = pixel[static_cast<std::size_t>(c)];
}

} // namespace

void paintOnto(RgbaImage& below, const RgbaImage& light, Blend blend, BlendScale scale, const Run& run)
{
    parallelFor(below.height(), {run.threads, {}, run.stop}, [&](int y) {
        for (int x = 0; x < below.width(); ++x) {
            const Pixel above = pixelAt(light, x, y);
            if (above == Pixel{}) continue;
            setPixel(below, x, y, paintedOn(blend, scale, pixelAt(below, x, y), above));
        }
    });
}

RgbaImage flattened(const RgbaImage& scene, const Plane<float>& distance,
                    const std::vector<LensLayer>& layers, const Run& run)
{
    RgbaImage result(scene.width(), scene.height());
    parallelFor(scene.height(), {run.threads, {}, run.stop}, [&](int y) {
        std::vector<std::pair<float, const LensLayer*>> order;
        for (int x = 0; x < scene.width(); ++x) {
            order.clear();
            for (const LensLayer& layer : layers)
                if (layer.colour.plane(3).at(x, y) > 0.0F)
                    order.emplace_back(layer.distance.at(x, y), &layer);
            std::ranges::stable_sort(order, [](const auto& a, const auto& b) {
                return a.second->isBehindAll != b.second->isBehindAll ? b.second->isBehindAll
                                                                      : a.first < b.first;
            });
            Pixel pixel{};
            const auto put = [&](const Pixel& under) {
                const float left = 1.0F - pixel[3];
                for (std::size_t c = 0; c < 4; ++c)
                    pixel[c] += left * under[c];
            };
            bool isPut = false;
            const float own = distance.at(x, y);
            for (const auto& [at, layer] : order) {
                if (!isPut && (layer->isBehindAll || (own <= at && layer->stepsBack))) {
                    put(pixelAt(scene, x, y));
                    isPut = true;
                }
                put(pixelAt(layer->colour, x, y));
            }
            if (!isPut) put(pixelAt(scene, x, y));
            setPixel(result, x, y, pixel);
        }
    });
    return result;
}

void mergeDistances(const std::vector<LensLayer>& layers, const Plane<float>& alpha, Plane<float>& distance,
                    Plane<std::uint8_t>& gaps)
{
    for (const LensLayer& layer : layers)
        for (int y = 0; y < distance.height(); ++y)
            for (int x = 0; x < distance.width(); ++x) {
                if (layer.colour.plane(3).at(x, y) < 0.5F) continue;
                const float at = layer.distance.at(x, y);
                float& own = distance.at(x, y);
                const bool isOpen = gaps.at(x, y) != 0 || alpha.at(x, y) < 0.5F;
                if (layer.isBehindAll ? !isOpen : !isOpen && layer.stepsBack && own <= at) continue;
                // A backdrop, with distances of its own or without, fills what is open whatever is stored
                // there.
                const bool isBackdrop = layer.isBehindAll || layer.isTakenApart;
                if (isOpen && own < at && gaps.at(x, y) == 0 && !isBackdrop) continue;
                own = at;
                gaps.at(x, y) = std::isfinite(at) ? 0 : 1;
            }
}

} // namespace retinex::inserts
