#include "core/passes/frames/mend_colour.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

namespace retinex::passes {

namespace {

constexpr int kMostRings = 8; ///< beyond, a hole is no fault of single pixels

struct Place
{
    int x;
    int y;
};

bool isFinite(const RgbaImage& image, int x, int y)
{
    for (int c = 0; c < RgbaImage::channels; ++c)
        if (!std::isfinite(image.plane(c).at(x, y))) return false;
    return true;
}

/// Pixels of `bad` beside a usable one get the mean of their usable neighbours; the others are returned.
std::vector<Place> fillRing(RgbaImage& image, const std::vector<Place>& bad)
{
    std::vector<Place> rest;
    std::vector<std::pair<Place, std::array<float, RgbaImage::channels>>> found;
    for (const Place& place : bad) {
        std::array<float, RgbaImage::channels> sum{};
        float count = 0.0F;
        for (int y = place.y - 1; y <= place.y + 1; ++y)
            for (int x = place.x - 1; x <= place.x + 1; ++x) {
                if (!image.plane(0).contains(x, y) || !isFinite(image, x, y)) continue;
                for (int c = 0; c < RgbaImage::channels; ++c)
                    sum[static_cast<std::size_t>(c)] += image.plane(c).at(x, y);
                count += 1.0F;
            }
        if (count == 0.0F) {
            rest.push_back(place);
            continue;
        }
        for (float& value : sum)
            value /= count;
        found.emplace_back(place, sum);
    }
    for (const auto& [place, colour] : found)
        for (int c = 0; c < RgbaImage::channels; ++c)
            image.plane(c).at(place.x, place.y) = colour[static_cast<std::size_t>(c)];
    return rest;
}

} // namespace

MendedColour mendColour(RgbaImage& image)
{
    MendedColour mended;
    std::vector<Place> bad;
    for (int y = 0; y < image.height(); ++y) {
        for (int x = 0; x < image.width(); ++x) {
            if (!isFinite(image, x, y)) {
                bad.push_back({x, y});
                continue;
            }
            bool held = false;
            for (int c = 0; c < 3; ++c) {
                float& value = image.plane(c).at(x, y);
                held = held || std::abs(value) > kMostLight;
                value = std::clamp(value, -kMostLight, kMostLight);
            }
            float& alpha = image.plane(3).at(x, y);
            alpha = std::clamp(alpha, 0.0F, 1.0F);
            mended.held += held ? 1 : 0;
        }
    }
    mended.bad = bad.size();
    for (int ring = 0; ring < kMostRings && !bad.empty(); ++ring) {
        const std::size_t before = bad.size();
        bad = fillRing(image, bad);
        if (bad.size() == before) break;
    }
    for (const Place& place : bad)
        for (int c = 0; c < RgbaImage::channels; ++c)
            image.plane(c).at(place.x, place.y) = 0.0F;
    return mended;
}

} // namespace retinex::passes
