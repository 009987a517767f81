#pragma once

#include "core/base/image.h"
#include "core/depth/depth_reading.h"
#include "core/depth/histogram.h"
#include "core/passes/layers.h"
#include "core/passes/sequence.h"

#include <filesystem>
#include <list>
#include <memory>
#include <mutex>
#include <string>

namespace retinex::passes {

/// A file (a still, any one frame, or a pattern) and the layer or channel in it; an empty name means the one
/// found by its usual names.
struct PassChoice
{
    std::filesystem::path file;
    std::string name;
    friend bool operator==(const PassChoice&, const PassChoice&) = default;
};

/// The passes of one frame, read and made safe. All planes have the size of the colour's display window.
struct FramePasses
{
    RgbaImage colour;      ///< scene-linear, premultiplied, finite; alpha 1 where the file has none
    Plane<float> stored;   ///< depth as the file has it
    Plane<float> distance; ///< planar, scene units, +inf in gaps
    depth::DepthRange range;
    std::size_t badColourCount = 0; ///< pixels with NaN or infinite colour, set to 0
    double pixelAspect = 1.0;
    SampleType colourType = SampleType::half;
    HeaderPtr header; ///< of the colour file
};
using FramePassesPtr = std::shared_ptr<const FramePasses>;

/// Reads the frames of a colour pass and a depth pass. Thread-safe; keeps the last few frames in memory.
class PassSource
{
public:
    /// Finds sequences, layers and channels. An empty depth file means the colour file. Throws Error naming
    /// the file when something is missing or does not fit.
    PassSource(const PassChoice& colour, const PassChoice& depth);

    [[nodiscard]] const Sequence& colourFiles() const noexcept { return m_colourFiles; }
    [[nodiscard]] const Sequence& depthFiles() const noexcept { return m_depthFiles; }
    [[nodiscard]] const ColourLayer& colourLayer() const noexcept { return m_colourLayer; }
    [[nodiscard]] const DepthChannel& depthChannel() const noexcept { return m_depthChannel; }
    [[nodiscard]] int width() const noexcept { return m_window.width(); }
    [[nodiscard]] int height() const noexcept { return m_window.height(); }

    /// First and last frame that both passes have; 1 to 1 for stills.
    [[nodiscard]] int firstFrame() const noexcept { return m_firstFrame; }
    [[nodiscard]] int lastFrame() const noexcept { return m_lastFrame; }
    /// Frames from first to last that one of the passes lacks.
    [[nodiscard]] std::vector<int> missingFrames() const;

    /// Throws Error when the frame is missing, damaged, or its passes differ in size.
    [[nodiscard]] FramePassesPtr load(int frame) const;
    /// The distances of a frame alone, read anew and not kept. Throws Error likewise.
    [[nodiscard]] Plane<float> loadDistance(int frame) const;

private:
    [[nodiscard]] FramePassesPtr read(int frame) const;

    Sequence m_colourFiles;
    Sequence m_depthFiles;
    ColourLayer m_colourLayer;
    DepthChannel m_depthChannel;
    PixelBox m_window;
    int m_firstFrame = 1;
    int m_lastFrame = 1;

    static constexpr std::size_t kKeptFrames = 4;
    mutable std::mutex m_mutex;
    mutable std::list<std::pair<int, FramePassesPtr>> m_kept; ///< newest first
};

/// The passes at 1/divisor of the size, for a coarse picture: colour averaged, depth picked, never blended.
[[nodiscard]] FramePassesPtr reduced(const FramePasses& full, int divisor);

} // namespace retinex::passes
