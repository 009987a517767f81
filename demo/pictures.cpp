#include "demo/pictures.h"

#include "reference/shapes.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>

namespace retinex::demo {

namespace {

/// -1..1 at whole places.
float knot(int x, int y)
{
    auto h = static_cast<std::uint32_t>(x) * 374761393U + static_cast<std::uint32_t>(y) * 668265263U;
    h = (h ^ (h >> 13U)) * 1274126177U;
    return static_cast<float>((h ^ (h >> 16U)) & 0xffffU) / 32767.5F - 1.0F;
}

float smoothNoise(float x, float y)
{
    const int x0 = static_cast<int>(std::floor(x));
    const int y0 = static_cast<int>(std::floor(y));
    const auto ease = [](float t) { return t * t * (3.0F - 2.0F * t); };
    const float u = ease(x - static_cast<float>(x0));
    const float v = ease(y - static_cast<float>(y0));
    const float top = knot(x0, y0) + u * (knot(x0 + 1, y0) - knot(x0, y0));
    const float bottom = knot(x0, y0 + 1) + u * (knot(x0 + 1, y0 + 1) - knot(x0, y0 + 1));
    return top + v * (bottom - top);
}

float roughNoise(float x, float y)
{
    return 0.55F * smoothNoise(x, y) + 0.28F * smoothNoise(2.1F * x, 2.1F * y) +
           0.17F * smoothNoise(4.3F * x, 4.3F * y);
}

} // namespace

RgbaImage nightSky(int width, int height)
{
    RgbaImage image(width, height);
    const auto w = static_cast<float>(width);
    const auto h = static_cast<float>(height);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            const float u = (static_cast<float>(x) + 0.5F) / w;
            const float v = (static_cast<float>(y) + 0.5F) / h;
            const float glow = std::exp(-7.0F * std::max(0.0F, 0.86F - v)) * (0.7F + 0.5F * u);
            const float mist = 0.012F * (1.0F + roughNoise(9.0F * u, 30.0F * v));
            std::array<float, 3> light{0.010F + 0.14F * glow + mist, 0.018F + 0.09F * glow + mist,
                                       0.060F + 0.05F * glow + mist};
            const float away = std::hypot((u - 0.73F) * w / h, v - 0.24F);
            const float disc = std::clamp((0.045F - away) * h / 1.5F, 0.0F, 1.0F);
            for (std::size_t c = 0; c < 3; ++c)
                light[c] += disc * (6.0F - 0.6F * static_cast<float>(c)) *
                                (1.0F + 0.25F * roughNoise(60.0F * u, 60.0F * v)) +
                            0.02F * std::exp(-12.0F * away);
            const float hill =
                0.84F - 0.05F * std::sin(5.0F * u + 0.6F) - 0.02F * roughNoise(14.0F * u, 3.0F);
            const float land = std::clamp((v - hill) * h, 0.0F, 1.0F);
            const std::array<float, 3> dark{0.006F, 0.009F, 0.012F};
            for (std::size_t c = 0; c < 3; ++c)
                image.plane(static_cast<int>(c)).at(x, y) = light[c] + land * (dark[c] - light[c]);
            image.plane(3).at(x, y) = 1.0F;
        }
    reference::Dice dice(23);
    for (int i = 0; i < 420; ++i) {
        const int x = static_cast<int>(dice(0.F, w - 1.F));
        const int y = static_cast<int>(dice(0.F, 0.72F * h));
        const float bright = 0.3F + 9.0F * std::pow(dice(0.F, 1.F), 6.0F);
        const float warm = dice(-0.25F, 0.25F);
        image.plane(0).at(x, y) += bright * (1.0F + warm);
        image.plane(1).at(x, y) += bright;
        image.plane(2).at(x, y) += bright * (1.0F - warm);
    }
    return image;
}

RgbaImage soil(int width, int height)
{
    RgbaImage image(width, height);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            const float u = 2.0F * (static_cast<float>(x) + 0.5F) / static_cast<float>(width) - 1.0F;
            const float v = 2.0F * (static_cast<float>(y) + 0.5F) / static_cast<float>(height) - 1.0F;
            const float rim = 0.72F + 0.2F * roughNoise(3.0F * u + 7.0F, 3.0F * v);
            const float heap = std::clamp((rim - std::hypot(0.95F * u, v)) * 14.0F, 0.0F, 1.0F);
            const float crumbs = roughNoise(26.0F * u, 26.0F * v) + 0.75F - 1.1F * std::hypot(u, v);
            const float alpha = std::max(heap, std::clamp(5.0F * crumbs - 1.4F, 0.0F, 1.0F)) *
                                std::clamp((1.0F - std::max(std::abs(u), std::abs(v))) * 20.0F, 0.0F, 1.0F);
            const float shade = 1.0F + 0.55F * roughNoise(40.0F * u, 40.0F * v) + 0.2F * (0.7F - rim);
            const std::array<float, 3> brown{0.060F, 0.036F, 0.022F};
            for (std::size_t c = 0; c < 3; ++c)
                image.plane(static_cast<int>(c)).at(x, y) = alpha * brown[c] * shade;
            image.plane(3).at(x, y) = alpha;
        }
    return image;
}

} // namespace retinex::demo
