#include "app/pictures/blur_picture.h"

#include <algorithm>
#include <cmath>

namespace retinex::app {

namespace {

constexpr int kRuling = 6; ///< px between the lines of the near side
constexpr int kStripe = 3; ///< px, of two surfaces that are filled in behind each other
constexpr int kDimmedPercent = 45;

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
    return {std::max(1.0, 2.0 * static_cast<double>(largest)), pxPerMm};
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

RepairPicture repairPicture(const frame::RepairedFrame& repaired)
{
    const defocus::Surfaces& parts = repaired.surfaces;
    RepairPicture picture{repaired.passes->colour(), {}};
    const int width = picture.values.width();
    const int height = picture.values.height();
    picture.marks = Plane<RepairMark>(width, height);
    const auto isThere = [](const defocus::SurfaceLayer& layer, int x, int y) {
        return layer.coverage.at(x, y) > 0.05F && layer.evidence.at(x, y) > 0.0F;
    };
    for (int y = 0; y < height; ++y) {
        for (int x = 0; x < width; ++x) {
            const int atX = x + repaired.left;
            const int atY = y + repaired.top;
            const float share = parts.visible.coverage.at(atX, atY);
            if (share > 0.02F && share < 0.98F) {
                picture.marks.at(x, y) = RepairMark::mixed;
                continue;
            }
            const bool hasHidden = isThere(parts.hidden, atX, atY);
            const bool hasThird = parts.third && isThere(*parts.third, atX, atY);
            if (!hasHidden && !hasThird) continue;
            const bool isSeen = hasHidden && repaired.seen && repaired.seen->weight.at(atX, atY) > 0.0F &&
                                std::abs(parts.hidden.evidence.at(atX, atY) - defocus::kSeenEvidence) < 1e-3F;
            picture.marks.at(x, y) = isSeen ? RepairMark::seen : RepairMark::filled;
            const bool showsThird = hasThird && (!hasHidden || (x + y) / kStripe % 2 == 0);
            const defocus::SurfaceLayer& shown = showsThird ? *parts.third : parts.hidden;
            for (int c = 0; c < RgbaImage::channels; ++c)
                picture.values.plane(c).at(x, y) =
                    shown.colour.plane(c).at(atX, atY) / shown.evidence.at(atX, atY);
        }
    }
    return picture;
}

void markRepair(QImage& image, const Plane<RepairMark>& marks)
{
    const auto isFilled = [&](int x, int y) {
        return marks.contains(x, y) && marks.at(x, y) >= RepairMark::filled;
    };
    for (int y = 0; y < image.height(); ++y) {
        auto* line = reinterpret_cast<QRgb*>(image.scanLine(y));
        for (int x = 0; x < image.width(); ++x) {
            const RepairMark mark = marks.at(x, y);
            if (mark == RepairMark::filled) continue;
            if (mark == RepairMark::seen) {
                // Light above dark: it shows on either.
                if (x % kSeenSpacing < kSeenSpot && y % kSeenSpacing < kSeenSpot)
                    line[x] = y % kSeenSpacing == 0 ? kMixedLight : kMixedDark;
                continue;
            }
            if (mark == RepairMark::mixed) {
                line[x] = (x + y) % 2 ? kMixedLight : kMixedDark;
            } else if (isFilled(x - 1, y) || isFilled(x + 1, y) || isFilled(x, y - 1) || isFilled(x, y + 1)) {
                line[x] = kFilledEdge;
            } else {
                const int grey = qGray(line[x]) * kDimmedPercent / 100;
                line[x] = qRgb(grey, grey, grey);
            }
        }
    }
}

} // namespace retinex::app
