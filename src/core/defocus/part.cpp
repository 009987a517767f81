#include "core/defocus/part.h"

#include "core/defocus/reach.h"
#include "core/image/crop.h"

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
    return {from(part.minX, marginX), from(part.minY, marginY), to(part.maxX + 1, marginX, width) - 1,
            to(part.maxY + 1, marginY, height) - 1};
}

/// The same lens on a picture that is cut out: the frame keeps its size and place.
LensSettings within(LensSettings settings, const PixelBox& box, int width, int height, double key)
{
    settings.brightness = key;
    if (settings.frame.width == 0) settings.frame = {0, 0, width, height};
    settings.frame.left -= box.minX;
    settings.frame.top -= box.minY;
    return settings;
}

/// `part` of the picture as it lies in what is cut out.
PixelBox within(const PixelBox& part, const PixelBox& source)
{
    return PixelBox::at(part.minX - source.minX, part.minY - source.minY, part.width(), part.height());
}

} // namespace

RgbaImage defocusPart(const LensInput& input, const LensSettings& settings, const PixelBox& part,
                      const Run& run)
{
    const PixelBox source = sourceOf(part, reachOf(input, settings, run), input.width(), input.height());
    const RgbaImage result =
        defocus(input.cropped(source, run),
                within(settings, source, input.width(), input.height(), brightnessFor(input, settings)), run);
    return cropped(result, within(part, source), run);
}

} // namespace retinex::defocus
