#include "core/defocus/part.h"

#include "core/defocus/reach.h"

#include <algorithm>

namespace retinex::defocus {

namespace {

/// Boxes begin at multiples of this, so that blocks and cells lie as in the whole picture.
constexpr int kGrid = 64;

/// How far edge repair looks around a pixel, beside continuing surfaces as far as light reaches.
constexpr int kLooksAround = 128;

/// What must be there to compute `part`.
PixelBox sourceOf(const PixelBox& part, const Reach& reach, int width, int height)
{
    const auto from = [](int at, int margin) { return std::max(0, (at - margin) / kGrid * kGrid); };
    const auto to = [](int at, int margin, int size) {
        return std::min(size, (at + margin + kGrid - 1) / kGrid * kGrid);
    };
    const int marginX = 2 * reach.x + kLooksAround;
    const int marginY = 2 * reach.y + kLooksAround;
    PixelBox box{from(part.x, marginX), from(part.y, marginY), 0, 0};
    box.width = to(part.right(), marginX, width) - box.x;
    box.height = to(part.bottom(), marginY, height) - box.y;
    return box;
}

Plane<float> cut(const Plane<float>& plane, const PixelBox& box, const Run& run)
{
    Plane<float> result(box.width, box.height);
    parallelFor(box.height, {run.threads, {}, run.stop},
                [&](int y) { std::copy_n(plane.row(box.y + y) + box.x, box.width, result.row(y)); });
    return result;
}

RgbaImage cut(const RgbaImage& image, const PixelBox& box, const Run& run)
{
    RgbaImage result;
    for (int c = 0; c < RgbaImage::channels; ++c)
        result.plane(c) = cut(image.plane(c), box, run);
    return result;
}

DeepPicture cut(const DeepPicture& deep, const PixelBox& box, const Run& run)
{
    DeepPicture result;
    result.width = box.width;
    result.height = box.height;
    result.first.push_back(0);
    for (int y = box.y; y < box.bottom(); ++y) {
        run.throwIfStopped();
        for (int x = box.x; x < box.right(); ++x) {
            const auto samples = deep.samples.begin();
            result.samples.insert(result.samples.end(),
                                  samples + static_cast<std::ptrdiff_t>(deep.firstOf(x, y)),
                                  samples + static_cast<std::ptrdiff_t>(deep.endOf(x, y)));
            result.first.push_back(result.samples.size());
        }
    }
    return result;
}

/// The same lens on a picture that is cut out: the frame keeps its size and place.
LensSettings within(LensSettings settings, const PixelBox& box, int width, int height)
{
    if (settings.frame.width == 0) settings.frame = {0, 0, width, height};
    settings.frame.left -= box.x;
    settings.frame.top -= box.y;
    return settings;
}

PixelBox moved(PixelBox part, const PixelBox& source)
{
    part.x -= source.x;
    part.y -= source.y;
    return part;
}

} // namespace

RgbaImage defocusPart(const RgbaImage& colour, const Plane<float>& distance, const LensSettings& settings,
                      const PixelBox& part, const Run& run)
{
    const int width = colour.width();
    const int height = colour.height();
    const PixelBox source = sourceOf(part, reachOf(distance, settings, run), width, height);
    const RgbaImage result = defocus(cut(colour, source, run), cut(distance, source, run),
                                     within(settings, source, width, height), run);
    return cut(result, moved(part, source), run);
}

RgbaImage defocusPart(const DeepPicture& deep, const LensSettings& settings, const PixelBox& part,
                      const Run& run)
{
    const PixelBox source = sourceOf(part, reachOf(deep, settings), deep.width, deep.height);
    const RgbaImage result =
        defocus(cut(deep, source, run), within(settings, source, deep.width, deep.height), run);
    return cut(result, moved(part, source), run);
}

} // namespace retinex::defocus
