#pragma once

#include "core/depth/depth_reading.h"
#include "core/depth/histogram.h"
#include "core/image/blur_share.h"
#include "core/image/deep_picture.h"
#include "core/image/frame_part.h"
#include "core/image/image.h"
#include "core/image/lens_layer.h"
#include "core/passes/exr/exr_file.h"
#include "core/system/run.h"

#include <memory>
#include <vector>

namespace retinex::passes {

/// The passes of one frame as read, made safe: planes of one size, that of all that the files hold. Where
/// that is more than the frame (overscan), the frame is a part of them.
struct RawPasses
{
    RgbaImage allColour;    ///< scene-linear, premultiplied, finite; alpha 0..1, 1 where the file has none
    Plane<float> allStored; ///< depth as the file has it; NaN outside its data window
    PixelBox frame;         ///< in the planes: the colour's display window
    /// Where colour and depth are one deep part: its samples with stored depth, as large as the planes. Else
    /// null.
    std::shared_ptr<const DeepPicture> deep;
    std::size_t badColourCount = 0;  ///< pixels with NaN or infinite colour, mended (mend_colour.h)
    std::size_t heldColourCount = 0; ///< pixels with more light than is taken, held
    bool isConverted = false;        ///< brought to scene-linear from another colour space
    bool hasAlpha = false;
    double brightness = 0.0; ///< sceneBrightness() of the colour, of all that the files hold
    double pixelAspect = 1.0;
    SampleType colourType = SampleType::half;
    HeaderPtr header; ///< of the colour file; null for formats other than EXR

    /// The whole, seen from the frame's first pixel.
    [[nodiscard]] PixelBox extent() const noexcept
    {
        return PixelBox::at(-frame.minX, -frame.minY, allColour.width(), allColour.height());
    }
    [[nodiscard]] bool hasOverscan() const noexcept
    {
        return frame.width() != allColour.width() || frame.height() != allColour.height();
    }
    /// Of the frame.
    [[nodiscard]] const RgbaImage& colour() const { return m_colour.of(allColour, frame); }
    [[nodiscard]] const Plane<float>& stored() const { return m_stored.of(allStored, frame); }

private:
    FramePart<RgbaImage> m_colour;
    FramePart<Plane<float>> m_stored;
};
using RawPassesPtr = std::shared_ptr<const RawPasses>;

struct FramePasses;

/// Pictures laid into a frame, and the frame without them.
struct LaidIn
{
    std::shared_ptr<const FramePasses> scene; ///< what goes through the lens besides; not null
    std::vector<LensLayer> layers;            ///< as large as the scene's planes
    double brightness = 0.0;                  ///< sceneBrightness() of all of it
};

/// The passes of one frame and the distances that a reading makes of them. All planes have the size of the
/// raw ones, and the frame lies in them as it does in those.
struct FramePasses
{
    RawPassesPtr raw;                        ///< not null
    Plane<float> allDistance;                ///< planar, scene units; +inf at the far end
    Plane<std::uint8_t> allGaps;             ///< 1 where the pass has no depth
    depth::DepthRange range;                 ///< of what is no gap in the frame
    std::shared_ptr<const DeepPicture> deep; ///< raw->deep with distances, front to back; null without
    BlurSharePtr allBlur;                    ///< what regions do to the blur; null: nothing
    /// Backdrop and inserts; null: none. Distances and gaps above are those of what is seen with them.
    std::shared_ptr<const LaidIn> laidIn;

    /// Of the frame.
    [[nodiscard]] const RgbaImage& colour() const { return raw->colour(); }
    [[nodiscard]] const Plane<float>& stored() const { return raw->stored(); }
    [[nodiscard]] const Plane<float>& distance() const { return m_distance.of(allDistance, raw->frame); }
    [[nodiscard]] const Plane<std::uint8_t>& gaps() const { return m_gaps.of(allGaps, raw->frame); }
    /// Null where regions do nothing to it.
    [[nodiscard]] const BlurShare* blur() const
    {
        return allBlur ? &m_blur.of(*allBlur, raw->frame) : nullptr;
    }
    /// To be called when distances and gaps are there.
    void findRange() { range = depth::depthRange(distance(), gaps()); }

private:
    FramePart<Plane<float>> m_distance;
    FramePart<Plane<std::uint8_t>> m_gaps;
    FramePart<BlurShare> m_blur;
};
using FramePassesPtr = std::shared_ptr<const FramePasses>;

/// How a frame's planes are seen, for the reading.
[[nodiscard]] depth::ViewGeometry viewOf(const RawPasses& raw, const depth::ReadingSettings& reading);
/// How the frame alone is seen.
[[nodiscard]] depth::ViewGeometry frameViewOf(const RawPasses& raw, const depth::ReadingSettings& reading);
/// What a reading makes of passes.
[[nodiscard]] FramePassesPtr withReading(const RawPassesPtr& raw, const depth::ReadingSettings& reading,
                                         const Run& run = {});

/// The passes at 1/divisor of the size, for a coarse picture: colour averaged, depth picked, never blended.
/// Overscan is left out.
[[nodiscard]] FramePassesPtr reduced(const FramePasses& full, int divisor);

/// What they take in memory, bytes; of FramePasses without what is shared with `raw`.
[[nodiscard]] std::size_t bytesOf(const RawPasses& raw) noexcept;
[[nodiscard]] std::size_t bytesOf(const FramePasses& passes) noexcept;

} // namespace retinex::passes
