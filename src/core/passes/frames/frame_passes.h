#pragma once

#include "core/depth/depth_reading.h"
#include "core/depth/histogram.h"
#include "core/image/blur_share.h"
#include "core/image/deep_picture.h"
#include "core/image/image.h"
#include "core/image/lens_layer.h"
#include "core/passes/exr/exr_file.h"
#include "core/system/run.h"

#include <memory>
#include <vector>

namespace retinex::passes {

/// What lies beyond the frame too, where the files hold it: planes of a larger size.
struct Overscan
{
    RgbaImage colour;
    Plane<float> stored;
    int left = 0; ///< where the frame begins in them, px
    int top = 0;
};

/// The passes of one frame as read, made safe. All planes have the size of the colour's display window.
struct RawPasses
{
    RgbaImage colour;    ///< scene-linear, premultiplied, finite; alpha 0..1, 1 where the file has none
    Plane<float> stored; ///< depth as the file has it; NaN outside its data window
    std::shared_ptr<const Overscan> overscan; ///< null without
    /// Where colour and depth are one deep part: its samples with stored depth, as large as all that the file
    /// holds (the overscan's planes, where there are any). Else null.
    std::shared_ptr<const DeepPicture> deep;
    std::size_t badColourCount = 0;  ///< pixels with NaN or infinite colour, mended (mend_colour.h)
    std::size_t heldColourCount = 0; ///< pixels with more light than is taken, held
    bool isConverted = false;        ///< brought to scene-linear from another colour space
    bool hasAlpha = false;
    double brightness = 0.0; ///< sceneBrightness() of the colour, of all that the files hold
    double pixelAspect = 1.0;
    SampleType colourType = SampleType::half;
    HeaderPtr header; ///< of the colour file; null for formats other than EXR
};
using RawPassesPtr = std::shared_ptr<const RawPasses>;

struct FramePasses;

/// Pictures laid into a frame, and the frame without them.
struct LaidIn
{
    std::shared_ptr<const FramePasses> scene; ///< what goes through the lens besides; not null
    std::vector<LensLayer> layers;            ///< as large as the scene's colour, overscan included
    double brightness = 0.0;                  ///< sceneBrightness() of all of it
};

/// The passes of one frame and the distances that a reading makes of them.
struct FramePasses
{
    RawPassesPtr raw;                        ///< not null
    Plane<float> distance;                   ///< planar, scene units; +inf at the far end
    Plane<std::uint8_t> gaps;                ///< 1 where the pass has no depth
    depth::DepthRange range;                 ///< of what is no gap
    Plane<float> overscanDistance;           ///< as large as raw->overscan's planes; empty without
    std::shared_ptr<const DeepPicture> deep; ///< raw->deep with distances, front to back; null without
    BlurSharePtr blur;                       ///< what regions do to the blur of the frame; null: nothing
    /// Backdrop and inserts; null: none. Distances and gaps above are those of what is seen with them.
    std::shared_ptr<const LaidIn> laidIn;
    BlurSharePtr overscanBlur; ///< the same for all that the files hold; null without overscan

    [[nodiscard]] const RgbaImage& colour() const noexcept { return raw->colour; }
    [[nodiscard]] const Plane<float>& stored() const noexcept { return raw->stored; }
};
using FramePassesPtr = std::shared_ptr<const FramePasses>;

/// How a frame is seen, for the reading; with all that the files hold of it, or the frame alone.
[[nodiscard]] depth::ViewGeometry viewOf(const RawPasses& raw, const depth::ReadingSettings& reading,
                                         bool overscan);
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
