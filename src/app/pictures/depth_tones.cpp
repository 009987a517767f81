#include "app/pictures/depth_tones.h"

#include <algorithm>
#include <cmath>

namespace retinex::app {

double DepthTones::position(double d) const noexcept
{
    switch (scale) {
    case ToneScale::log:
        return std::log(d / nearest) / std::log(farthest / nearest);
    case ToneScale::dioptre:
        return (1.0 / nearest - 1.0 / d) / (1.0 / nearest - 1.0 / farthest);
    default:
        return (d - nearest) / (farthest - nearest);
    }
}

double DepthTones::distance(double t) const noexcept
{
    switch (scale) {
    case ToneScale::log:
        return nearest * std::pow(farthest / nearest, t);
    case ToneScale::dioptre:
        return 1.0 / ((1.0 - t) / nearest + t / farthest);
    default:
        return nearest + t * (farthest - nearest);
    }
}

int DepthTones::grey(double position) noexcept
{
    return static_cast<int>(std::lround(240.0 - 200.0 * std::clamp(position, 0.0, 1.0)));
}

QImage depthImage(const passes::FramePasses& passes, const DepthTones& tones)
{
    const Plane<float>& distance = passes.distance();
    QImage image(distance.width(), distance.height(), QImage::Format_RGB32);
    constexpr double slack = 1e-4; // the ends themselves are within
    for (int y = 0; y < distance.height(); ++y) {
        auto* line = reinterpret_cast<QRgb*>(image.scanLine(y));
        for (int x = 0; x < distance.width(); ++x) {
            int grey = (x + y) % 8 < 2 ? 54 : 20;
            if (passes.gaps().at(x, y) == 0) {
                const double t = tones.position(distance.at(x, y));
                grey = DepthTones::grey(t);
                if (t < -slack && x % 5 == 0) grey = 120;
                if (t > 1.0 + slack && y % 5 == 0) grey = 130;
            }
            line[x] = qRgb(grey, grey, grey);
        }
    }
    return image;
}

QImage matteImage(const Plane<float>& matte)
{
    QImage image(matte.width(), matte.height(), QImage::Format_RGB32);
    for (int y = 0; y < matte.height(); ++y) {
        auto* line = reinterpret_cast<QRgb*>(image.scanLine(y));
        for (int x = 0; x < matte.width(); ++x) {
            const int grey = static_cast<int>(std::lround(255.0 * std::clamp(matte.at(x, y), 0.0F, 1.0F)));
            line[x] = qRgb(grey, grey, grey);
        }
    }
    return image;
}

} // namespace retinex::app
