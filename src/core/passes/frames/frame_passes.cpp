#include "core/passes/frames/frame_passes.h"

#include "core/image/crop.h"
#include "core/image/reduced.h"

#include <algorithm>

namespace retinex::passes {

namespace {

/// Stored depth becomes distance, and samples go front to back.
std::shared_ptr<const DeepPicture> withDistances(const DeepPicture& stored,
                                                 const depth::ReadingSettings& reading,
                                                 const depth::ViewGeometry& view)
{
    auto deep = std::make_shared<DeepPicture>(stored);
    const depth::SampleReading distanceOf(reading, view);
    for (int y = 0; y < deep->height; ++y) {
        for (int x = 0; x < deep->width; ++x) {
            const auto first = deep->samples.begin() + static_cast<std::ptrdiff_t>(deep->firstOf(x, y));
            const auto end = deep->samples.begin() + static_cast<std::ptrdiff_t>(deep->endOf(x, y));
            for (auto sample = first; sample != end; ++sample) {
                const bool isVolume = sample->isVolume();
                const float from = distanceOf(sample->depth, x, y);
                const float to = isVolume ? distanceOf(sample->back, x, y) : from;
                sample->depth = std::min(from, to);
                sample->back = std::max(from, to);
            }
            std::stable_sort(first, end, [](const auto& a, const auto& b) { return a.depth < b.depth; });
        }
    }
    return deep;
}

template <class T>
std::size_t bytesOfPlane(const Plane<T>& plane) noexcept
{
    return plane.size() * sizeof(T);
}

std::size_t bytesOfImage(const RgbaImage& image) noexcept
{
    return RgbaImage::channels * bytesOfPlane(image.plane(0));
}

std::size_t bytesOfDeep(const std::shared_ptr<const DeepPicture>& deep) noexcept
{
    return deep ? deep->first.size() * sizeof(deep->first[0]) + deep->samples.size() * sizeof(DeepSample) : 0;
}

std::size_t bytesOfBlur(const BlurSharePtr& blur) noexcept
{
    return blur ? bytesOfPlane(blur->share) + bytesOfPlane(blur->addedPx) : 0;
}

} // namespace

depth::ViewGeometry viewOf(const RawPasses& raw, const depth::ReadingSettings& reading, bool overscan)
{
    depth::ViewGeometry view{static_cast<double>(raw.colour.width()),
                             static_cast<double>(raw.colour.height())};
    if (overscan) {
        view.left = raw.overscan->left;
        view.top = raw.overscan->top;
    }
    view.pixelAspect = raw.pixelAspect;
    if (reading.fieldOfViewDeg > 0.0) view.fieldOfViewDeg = reading.fieldOfViewDeg;
    return view;
}

FramePassesPtr withReading(const RawPassesPtr& raw, const depth::ReadingSettings& reading, const Run& run)
{
    auto passes = std::make_shared<FramePasses>();
    passes->raw = raw;
    if (const auto& overscan = raw->overscan) {
        auto all = depth::toDistance(overscan->stored, &overscan->colour.plane(3), reading,
                                     viewOf(*raw, reading, true), run);
        const PixelBox frame =
            PixelBox::at(overscan->left, overscan->top, raw->colour.width(), raw->colour.height());
        passes->distance = retinex::cropped(all.distance, frame);
        passes->gaps = retinex::cropped(all.gaps, frame);
        passes->overscanDistance = std::move(all.distance);
    } else {
        auto all =
            depth::toDistance(raw->stored, &raw->colour.plane(3), reading, viewOf(*raw, reading, false), run);
        passes->distance = std::move(all.distance);
        passes->gaps = std::move(all.gaps);
    }
    run.throwIfStopped();
    passes->range = depth::depthRange(passes->distance, passes->gaps);
    if (raw->deep)
        passes->deep = withDistances(*raw->deep, reading, viewOf(*raw, reading, raw->overscan != nullptr));
    return passes;
}

FramePassesPtr reduced(const FramePasses& full, int divisor)
{
    auto raw = std::make_shared<RawPasses>();
    for (int c = 0; c < RgbaImage::channels; ++c)
        raw->colour.plane(c) = averaged(full.colour().plane(c), divisor);
    raw->stored = picked(full.stored(), divisor);
    raw->badColourCount = full.raw->badColourCount;
    raw->heldColourCount = full.raw->heldColourCount;
    raw->isConverted = full.raw->isConverted;
    raw->brightness = full.raw->brightness;
    raw->hasAlpha = full.raw->hasAlpha;
    raw->pixelAspect = full.raw->pixelAspect;
    raw->colourType = full.raw->colourType;
    raw->header = full.raw->header;
    auto small = std::make_shared<FramePasses>();
    small->raw = std::move(raw);
    small->distance = picked(full.distance, divisor);
    small->gaps = picked(full.gaps, divisor);
    small->range = full.range;
    if (full.blur) small->blur = retinex::reduced(*full.blur, divisor);
    return small;
}

std::size_t bytesOf(const RawPasses& raw) noexcept
{
    std::size_t bytes = bytesOfImage(raw.colour) + bytesOfPlane(raw.stored) + bytesOfDeep(raw.deep);
    if (raw.overscan) bytes += bytesOfImage(raw.overscan->colour) + bytesOfPlane(raw.overscan->stored);
    return bytes;
}

std::size_t bytesOf(const FramePasses& passes) noexcept
{
    std::size_t laidIn = 0;
    if (passes.laidIn)
        for (const LensLayer& layer : passes.laidIn->layers)
            laidIn += bytesOfImage(layer.colour) + bytesOfPlane(layer.distance);
    return laidIn + bytesOfPlane(passes.distance) + bytesOfPlane(passes.gaps) +
           bytesOfPlane(passes.overscanDistance) + bytesOfDeep(passes.deep) + bytesOfBlur(passes.blur) +
           bytesOfBlur(passes.overscanBlur);
}

} // namespace retinex::passes
