#include "core/passes/frames/frame_passes.h"

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

depth::ViewGeometry viewOf(const RawPasses& raw, const depth::ReadingSettings& reading)
{
    depth::ViewGeometry view = frameViewOf(raw, reading);
    view.left = raw.frame.minX;
    view.top = raw.frame.minY;
    return view;
}

depth::ViewGeometry frameViewOf(const RawPasses& raw, const depth::ReadingSettings& reading)
{
    depth::ViewGeometry view{static_cast<double>(raw.frame.width()), static_cast<double>(raw.frame.height())};
    view.pixelAspect = raw.pixelAspect;
    if (reading.fieldOfViewDeg > 0.0) view.fieldOfViewDeg = reading.fieldOfViewDeg;
    return view;
}

FramePassesPtr withReading(const RawPassesPtr& raw, const depth::ReadingSettings& reading, const Run& run)
{
    auto passes = std::make_shared<FramePasses>();
    passes->raw = raw;
    const depth::ViewGeometry view = viewOf(*raw, reading);
    auto distances = depth::toDistance(raw->allStored, &raw->allColour.plane(3), reading, view, run);
    passes->allDistance = std::move(distances.distance);
    passes->allGaps = std::move(distances.gaps);
    run.throwIfStopped();
    passes->findRange();
    if (raw->deep) passes->deep = withDistances(*raw->deep, reading, view);
    return passes;
}

FramePassesPtr reduced(const FramePasses& full, int divisor)
{
    auto raw = std::make_shared<RawPasses>();
    for (int c = 0; c < RgbaImage::channels; ++c)
        raw->allColour.plane(c) = averaged(full.colour().plane(c), divisor);
    raw->allStored = picked(full.stored(), divisor);
    raw->frame = PixelBox::at(0, 0, raw->allColour.width(), raw->allColour.height());
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
    small->allDistance = picked(full.distance(), divisor);
    small->allGaps = picked(full.gaps(), divisor);
    small->range = full.range;
    if (const BlurShare* blur = full.blur()) small->allBlur = retinex::reduced(*blur, divisor);
    return small;
}

std::size_t bytesOf(const RawPasses& raw) noexcept
{
    return bytesOfImage(raw.allColour) + bytesOfPlane(raw.allStored) + bytesOfDeep(raw.deep);
}

std::size_t bytesOf(const FramePasses& passes) noexcept
{
    std::size_t laidIn = 0;
    if (passes.laidIn)
        for (const LensLayer& layer : passes.laidIn->layers)
            laidIn += bytesOfImage(layer.colour) + bytesOfPlane(layer.distance);
    return laidIn + bytesOfPlane(passes.allDistance) + bytesOfPlane(passes.allGaps) +
           bytesOfDeep(passes.deep) + bytesOfBlur(passes.allBlur);
}

} // namespace retinex::passes
