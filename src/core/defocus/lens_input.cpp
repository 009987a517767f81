#include "core/defocus/lens_input.h"

#include "core/image/crop.h"
#include "core/image/reduced.h"
#include "core/image/scene_brightness.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <fmt/format.h>

namespace retinex::defocus {

namespace {

/// A pointer that owns nothing.
template <class T>
std::shared_ptr<const T> borrowed(const T* value)
{
    return {std::shared_ptr<void>(), value};
}

/// One more `margin` on each side, turned over at the edge.
template <class T>
Plane<T> turnedOver(const Plane<T>& plane, int marginX, int marginY)
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

} // namespace

LensInput::LensInput(std::shared_ptr<const RgbaImage> colour, std::shared_ptr<const Plane<float>> distance,
                     ObjectSharesPtr objects)
    : m_colour(std::move(colour)), m_distance(std::move(distance)), m_objects(std::move(objects))
{
}

LensInput::LensInput(std::shared_ptr<const DeepPicture> deep) : m_deep(std::move(deep)) {}

LensInput::LensInput(const RgbaImage& colour, const Plane<float>& distance, const ObjectShares* objects)
    : LensInput(borrowed(&colour), borrowed(&distance), objects ? borrowed(objects) : nullptr)
{
}

LensInput::LensInput(const DeepPicture& deep) : LensInput(borrowed(&deep)) {}

int LensInput::width() const noexcept
{
    return m_deep ? m_deep->width : m_colour ? m_colour->width() : 0;
}

int LensInput::height() const noexcept
{
    return m_deep ? m_deep->height : m_colour ? m_colour->height() : 0;
}

double LensInput::sceneBrightness() const
{
    return m_deep ? retinex::sceneBrightness(*m_deep) : retinex::sceneBrightness(*m_colour);
}

void LensInput::check() const
{
    const auto require = [&](int planeWidth, int planeHeight, const char* what, const char* wayOut) {
        if (planeWidth != width() || planeHeight != height())
            throw Error(say("The {} {} x {} px and the colour pass {} x {} px. Render {} at the same size.",
                            what, planeWidth, planeHeight, width(), height(), wayOut));
    };
    if (m_distance) require(m_distance->width(), m_distance->height(), "depth pass is", "both");
    if (m_objects) require(m_objects->width, m_objects->height, "mattes are", "them");
    if (m_layers)
        for (const LensLayer& layer : *m_layers)
            require(layer.distance.width(), layer.distance.height(), "inserts are", "all");
    if (m_seenBehind)
        require(m_seenBehind->weight.width(), m_seenBehind->weight.height(), "other frames are", "all");
    if (m_blurShare) require(m_blurShare->share.width(), m_blurShare->share.height(), "regions are", "all");
}

template <class Change, class BoxOf>
LensInput LensInput::changed(const Run& run, Change change, BoxOf boxOf) const
{
    LensInput result;
    if (m_deep)
        result.m_deep = std::make_shared<DeepPicture>(madeOf(*m_deep, change(pixelNumbers(*m_deep)), run));
    if (m_colour) {
        auto colour = std::make_shared<RgbaImage>();
        for (int c = 0; c < RgbaImage::channels; ++c)
            colour->plane(c) = change(m_colour->plane(c));
        result.m_colour = std::move(colour);
    }
    if (m_distance) result.m_distance = std::make_shared<Plane<float>>(change(*m_distance));
    if (m_objects)
        result.m_objects =
            std::make_shared<ObjectShares>(madeOf(*m_objects, change(pixelNumbers(*m_objects)), run));
    if (m_layers) {
        auto layers = std::make_shared<std::vector<LensLayer>>(m_layers->size());
        for (std::size_t i = 0; i < layers->size(); ++i) {
            const LensLayer& from = (*m_layers)[i];
            LensLayer& to = (*layers)[i];
            static_cast<LensLayerPlace&>(to) = from;
            to.box = boxOf(from.box);
            for (int c = 0; c < RgbaImage::channels; ++c)
                to.colour.plane(c) = change(from.colour.plane(c));
            to.distance = change(from.distance);
        }
        result.m_layers = std::move(layers);
    }
    if (m_blurShare) {
        auto blur = std::make_shared<BlurShare>();
        blur->share = change(m_blurShare->share);
        blur->addedPx = change(m_blurShare->addedPx);
        result.m_blurShare = std::move(blur);
    }
    if (m_seenBehind) {
        auto seen = std::make_shared<SeenBehind>();
        for (int c = 0; c < RgbaImage::channels; ++c)
            seen->colour.plane(c) = change(m_seenBehind->colour.plane(c));
        seen->distance = change(m_seenBehind->distance);
        seen->weight = change(m_seenBehind->weight);
        result.m_seenBehind = std::move(seen);
    }
    return result;
}

LensInput LensInput::cropped(const PixelBox& box, const Run& run) const
{
    return changed(
        run, [&](const auto& plane) { return retinex::cropped(plane, box, run); },
        [&](const PixelBox& from) {
            if (from.empty()) return from;
            const PixelBox left = from.intersected(box);
            // Nothing of it is left: one pixel, which is empty, since no box would mean all.
            return left.empty() ? PixelBox::at(0, 0, 1, 1)
                                : PixelBox::at(left.minX - box.minX, left.minY - box.minY, left.width(),
                                               left.height());
        });
}

LensInput LensInput::mirrored(int marginX, int marginY, const Run& run) const
{
    return changed(
        run, [&](const auto& plane) { return turnedOver(plane, marginX, marginY); },
        [](const PixelBox&) { return PixelBox(); });
}

LensInput LensInput::reduced(int divisor) const
{
    LensInput result;
    auto colour = std::make_shared<RgbaImage>();
    for (int c = 0; c < RgbaImage::channels; ++c)
        colour->plane(c) = averaged(m_colour->plane(c), divisor);
    result.m_colour = std::move(colour);
    result.m_distance = std::make_shared<Plane<float>>(picked(*m_distance, divisor));
    if (m_blurShare) result.m_blurShare = retinex::reduced(*m_blurShare, divisor);
    return result;
}

} // namespace retinex::defocus
