#include "app/jobs/blur_picture.h"

#include "core/defocus/edge_repair.h"

#include <algorithm>
#include <cmath>

namespace retinex::app {

namespace {

constexpr int kRuling = 6; ///< px between the lines of the near side
constexpr float kDimmed = 0.12F;

/// The next of 1, 2, 5, 10, 20, ...
double roundedUp(double value)
{
    const double decade = std::pow(10.0, std::floor(std::log10(std::max(value, 1e-6))));
    for (const double step : {1.0, 2.0, 5.0})
        if (value <= step * decade) return step * decade;
    return 10.0 * decade;
}

} // namespace

int BlurTones::tone(double cocPx) const noexcept
{
    return static_cast<int>(std::lround(255.0 * std::sqrt(std::clamp(cocPx / largestPx, 0.0, 1.0))));
}

BlurTones blurTones(const Plane<float>& radiusPx, double pxPerMm)
{
    float largest = 0.0F;
    for (const float r : radiusPx.pixels())
        largest = std::max(largest, std::abs(r));
    return {roundedUp(std::max(1.0, 2.0 * static_cast<double>(largest))), pxPerMm};
}

QImage blurImage(const Plane<float>& radiusPx, const BlurTones& tones)
{
    QImage image(radiusPx.width(), radiusPx.height(), QImage::Format_RGB32);
    for (int y = 0; y < radiusPx.height(); ++y) {
        auto* line = reinterpret_cast<QRgb*>(image.scanLine(y));
        for (int x = 0; x < radiusPx.width(); ++x) {
            const float radius = radiusPx.at(x, y);
            int tone = tones.tone(2.0 * std::abs(static_cast<double>(radius)));
            if (radius < 0.0F) {
                if (y % kRuling == 0) tone = tone * 6 / 10;
                line[x] = qRgb(tone, tone * 84 / 100, tone * 52 / 100);
            } else {
                line[x] = qRgb(tone * 82 / 100, tone * 79 / 100, tone);
            }
        }
    }
    return image;
}

RgbaImage repairedPicture(const RgbaImage& colour, const Plane<float>& radiusPx, const ObjectShares* objects,
                          const Run& run, Plane<std::uint8_t>& mixed)
{
    const defocus::Surfaces parts = defocus::repairEdges(colour, radiusPx, objects, run);
    RgbaImage picture = colour;
    mixed = Plane<std::uint8_t>(colour.width(), colour.height());
    for (int y = 0; y < colour.height(); ++y) {
        for (int x = 0; x < colour.width(); ++x) {
            const bool filled = parts.hidden.coverage.at(x, y) > 0.05F;
            const float evidence = parts.hidden.evidence.at(x, y);
            const float share = parts.visible.coverage.at(x, y);
            mixed.at(x, y) = share > 0.02F && share < 0.98F ? 1 : 0;
            for (int c = 0; c < 3; ++c) {
                float& value = picture.plane(c).at(x, y);
                value = filled && evidence > 0.0F ? parts.hidden.colour.plane(c).at(x, y) / evidence
                                                  : value * kDimmed;
            }
        }
    }
    return picture;
}

void markMixed(QImage& image, const Plane<std::uint8_t>& mixed)
{
    for (int y = 0; y < image.height(); ++y) {
        auto* line = reinterpret_cast<QRgb*>(image.scanLine(y));
        for (int x = 0; x < image.width(); ++x)
            if (mixed.at(x, y) != 0) line[x] = (x + y) % 2 ? qRgb(240, 233, 220) : qRgb(20, 20, 20);
    }
}

} // namespace retinex::app
