#include "core/defocus/mirror.h"

#include "core/base/cut.h"
#include "core/defocus/reach.h"

#include <algorithm>

namespace retinex::defocus {

namespace {

/// One more `margin` on each side, turned over at the edge.
template <class T>
Plane<T> mirrored(const Plane<T>& plane, int marginX, int marginY)
{
    const auto fold = [](int at, int size) {
        at = at < 0 ? -1 - at : at;
        return at >= size ? 2 * size - 1 - at : at;
    };
    Plane<T> larger(plane.width() + 2 * marginX, plane.height() + 2 * marginY);
    for (int y = 0; y < larger.height(); ++y) {
        const T* from = plane.row(fold(y - marginY, plane.height()));
        for (int x = 0; x < larger.width(); ++x)
            larger.at(x, y) = from[fold(x - marginX, plane.width())];
    }
    return larger;
}

/// How far a mirrored picture goes on: as far as light reaches, once its own size at most.
Reach marginFor(const Reach& reach, int width, int height)
{
    return {std::min(reach.x, width), std::min(reach.y, height)};
}

LensSettings withMargin(LensSettings settings, Reach margin, int width, int height, double key)
{
    settings.key = key;
    if (settings.frame.width == 0) settings.frame = {0, 0, width, height};
    settings.frame.left += margin.x;
    settings.frame.top += margin.y;
    settings.frameEdge = FrameEdge::continuePicture;
    return settings;
}

} // namespace

RgbaImage defocusMirrored(const RgbaImage& colour, const Plane<float>& distance, const LensSettings& settings,
                          const Run& run, const ObjectShares* objects)
{
    const int width = colour.width();
    const int height = colour.height();
    const Reach margin = marginFor(reachOf(distance, settings, run), width, height);
    RgbaImage larger;
    for (int c = 0; c < RgbaImage::channels; ++c)
        larger.plane(c) = mirrored(colour.plane(c), margin.x, margin.y);
    const auto largerObjects = transformed(
        objects, run, [&](const Plane<int>& numbers) { return mirrored(numbers, margin.x, margin.y); });
    const RgbaImage result = defocus(larger, mirrored(distance, margin.x, margin.y),
                                     withMargin(settings, margin, width, height, keyFor(colour, settings)),
                                     run, largerObjects ? &*largerObjects : nullptr);
    return cut(result, PixelBox::at(margin.x, margin.y, width, height), run);
}

RgbaImage defocusMirrored(const DeepPicture& deep, const LensSettings& settings, const Run& run)
{
    const Reach margin = marginFor(reachOf(deep, settings), deep.width, deep.height);
    const DeepPicture larger = madeOf(deep, mirrored(pixelNumbers(deep), margin.x, margin.y), run);
    const RgbaImage result =
        defocus(larger, withMargin(settings, margin, deep.width, deep.height, keyFor(deep, settings)), run);
    return cut(result, PixelBox::at(margin.x, margin.y, deep.width, deep.height), run);
}

} // namespace retinex::defocus
