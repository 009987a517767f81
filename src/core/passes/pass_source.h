#pragma once

#include "core/base/deep_picture.h"
#include "core/base/image.h"
#include "core/base/object_shares.h"
#include "core/depth/depth_reading.h"
#include "core/depth/histogram.h"
#include "core/passes/fit_size.h"
#include "core/passes/layers.h"
#include "core/passes/mattes/mattes.h"
#include "core/passes/pass_choice.h"
#include "core/passes/scene/camera_data.h"
#include "core/passes/sequence.h"

#include <list>
#include <memory>
#include <mutex>
#include <optional>
#include <string>

namespace retinex::passes {

/// What a frame that one of the passes lacks becomes.
enum class MissingFrames {
    stop, ///< an error that lists them
    hold, ///< the last frame there is stands in
    black ///< nothing: black, alpha 0, all gaps
};
[[nodiscard]] std::string_view name(MissingFrames missing) noexcept; ///< "stop", "hold", "black"
[[nodiscard]] std::optional<MissingFrames> missingFromName(std::string_view text) noexcept;

/// How passes are read, besides where from.
struct PassOptions
{
    PassChoice alpha;       ///< a file (and channel) for alpha; an empty file means the colour layer's own
    std::string inputSpace; ///< of the colour pass; "" means by the file (see colour/input_space.h)
    MissingFrames missing = MissingFrames::stop;
    SizeFit sizeFit = SizeFit::scale;
    friend bool operator==(const PassOptions&, const PassOptions&) = default;
};

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
    double key = 0.0; ///< sceneKey() of the colour, of all that the files hold
    double pixelAspect = 1.0;
    SampleType colourType = SampleType::half;
    HeaderPtr header; ///< of the colour file; null for formats other than EXR
};
using RawPassesPtr = std::shared_ptr<const RawPasses>;

/// The passes of one frame and the distances that a reading makes of them.
struct FramePasses
{
    RawPassesPtr raw;                        ///< not null
    Plane<float> distance;                   ///< planar, scene units; +inf at the far end
    Plane<std::uint8_t> gaps;                ///< 1 where the pass has no depth
    depth::DepthRange range;                 ///< of what is no gap
    Plane<float> overscanDistance;           ///< as large as raw->overscan's planes; empty without
    std::shared_ptr<const DeepPicture> deep; ///< raw->deep with distances, front to back; null without

    [[nodiscard]] const RgbaImage& colour() const noexcept { return raw->colour; }
    [[nodiscard]] const Plane<float>& stored() const noexcept { return raw->stored; }
};
using FramePassesPtr = std::shared_ptr<const FramePasses>;

/// Reads the frames of a colour pass and a depth pass. Thread-safe; keeps the last few frames in memory, so
/// that a change of reading alone reads no file.
class PassSource
{
public:
    /// Finds sequences, layers and channels. An empty depth file means the colour file. Throws Error naming
    /// the file when something is missing or does not fit.
    PassSource(const PassChoice& colour, const PassChoice& depth, PassOptions options = {},
               std::size_t keptFrames = 4);

    /// Stands in for passes that cannot be read, so that a project can be worked on meanwhile: it has the
    /// names and the frames, and whatever is loaded throws Error with `reason`.
    [[nodiscard]] static std::shared_ptr<const PassSource> standIn(const PassChoice& colour,
                                                                   const PassChoice& depth,
                                                                   PassOptions options, int firstFrame,
                                                                   int lastFrame, const std::string& reason);
    /// "" or why nothing can be loaded.
    [[nodiscard]] const std::string& absentBecause() const noexcept { return m_absentBecause; }

    [[nodiscard]] const Sequence& colourFiles() const noexcept { return m_colourFiles; }
    [[nodiscard]] const Sequence& depthFiles() const noexcept { return m_depthFiles; }
    [[nodiscard]] const std::optional<Sequence>& alphaFiles() const noexcept { return m_alphaFiles; }
    [[nodiscard]] const FileInfo& colourInfo() const noexcept { return m_colourInfo; } ///< of the first frame
    [[nodiscard]] const FileInfo& depthInfo() const noexcept { return m_depthInfo; }
    [[nodiscard]] const ColourLayer& colourLayer() const noexcept { return m_colourLayer; }
    [[nodiscard]] const DepthChannel& depthChannel() const noexcept { return m_depthChannel; }
    [[nodiscard]] const PassOptions& options() const noexcept { return m_options; }
    /// The colour space the colour pass is taken to be in.
    [[nodiscard]] const std::string& inputSpace() const noexcept { return m_inputSpace; }
    [[nodiscard]] int width() const noexcept { return m_window.width(); }
    [[nodiscard]] int height() const noexcept { return m_window.height(); }
    /// "" or a sentence that says how passes of different sizes are brought together.
    [[nodiscard]] std::string sizeNotice() const;

    /// First and last frame that both passes have; 1 to 1 for stills.
    [[nodiscard]] int firstFrame() const noexcept { return m_firstFrame; }
    [[nodiscard]] int lastFrame() const noexcept { return m_lastFrame; }
    /// Frames from first to last that one of the passes lacks.
    [[nodiscard]] std::vector<int> missingFrames() const;
    /// Throws Error listing those of `frames` that are missing, where missing frames stop the work.
    void requireFrames(const std::vector<int>& frames) const;

    /// The passes as read, without distances. Throws Error when the frame is missing or damaged.
    [[nodiscard]] RawPassesPtr loadRaw(int frame) const;
    /// Throws Error likewise.
    [[nodiscard]] FramePassesPtr load(int frame, const depth::ReadingSettings& reading = {}) const;
    /// load() at 1/divisor of the size (see reduced); the last one is kept, for settings that change quickly.
    [[nodiscard]] FramePassesPtr loadReduced(int frame, const depth::ReadingSettings& reading,
                                             int divisor) const;
    /// The distances of a frame alone, read anew and not kept. Throws Error likewise.
    [[nodiscard]] depth::DistanceResult loadDistance(int frame,
                                                     const depth::ReadingSettings& reading = {}) const;
    /// What mattes say of a frame, as large as all that the files hold of it (RawPasses::overscan); null
    /// without mattes and for a black frame. The last ones are kept. Throws Error as readMatteObjects does.
    [[nodiscard]] ObjectSharesPtr loadObjects(int frame, const std::vector<MatteChoice>& mattes) const;
    /// In which state the files of all frames are (see file_state.h), as looked at once.
    [[nodiscard]] const std::string& filesState() const;
    /// Lets go of the frames that are kept; they are read again when they are asked for.
    void forgetFrames() const;
    /// Reads a frame's files into memory, for a load() to come; errors are left to that.
    void prefetch(int frame) const noexcept;

private:
    explicit PassSource(std::string absentBecause) : m_absentBecause(std::move(absentBecause)) {}
    void requirePresent() const;
    [[nodiscard]] RawPassesPtr read(int frame) const;
    [[nodiscard]] RawPassesPtr blackFrame() const;
    [[nodiscard]] std::filesystem::path fileFor(const Sequence& files, int frame) const;
    [[nodiscard]] bool isBlack(int frame) const;
    void readAlpha(int frame, const PixelBox& window, RgbaImage& colour) const;

    Sequence m_colourFiles;
    Sequence m_depthFiles;
    std::optional<Sequence> m_alphaFiles;
    FileInfo m_colourInfo;
    FileInfo m_depthInfo;
    ColourLayer m_colourLayer;
    DepthChannel m_depthChannel;
    DepthChannel m_alphaChannel;
    PassOptions m_options;
    std::string m_inputSpace;
    bool m_isLinear = true; ///< the colour pass needs no conversion
    PixelBox m_window;      ///< display window of the colour pass
    PixelBox m_depthWindow; ///< display window of the depth pass
    int m_firstFrame = 1;
    int m_lastFrame = 1;

    std::string m_absentBecause;
    std::size_t m_keptFrames = 1;
    static constexpr std::size_t kKeptSizes = 4; ///< of one frame
    struct Kept
    {
        int frame;
        depth::ReadingSettings reading;
        FramePassesPtr passes;
    };
    mutable std::mutex m_mutex;
    mutable std::list<std::pair<int, RawPassesPtr>> m_raw; ///< newest first
    mutable std::list<Kept> m_kept;                        ///< newest first
    struct Reduced
    {
        FramePassesPtr full;
        int divisor = 0;
        FramePassesPtr small;
    };
    mutable std::list<Reduced> m_reduced; ///< newest first
    struct KeptObjects
    {
        int frame;
        std::vector<MatteChoice> mattes;
        ObjectSharesPtr objects;
    };
    mutable std::list<KeptObjects> m_objects; ///< newest first
    mutable std::once_flag m_stateAsked;
    mutable std::string m_filesState;
};

/// What a reading makes of passes.
[[nodiscard]] FramePassesPtr withReading(const RawPassesPtr& raw, const depth::ReadingSettings& reading);

/// The passes at 1/divisor of the size, for a coarse picture: colour averaged, depth picked, never blended.
/// Overscan is left out.
[[nodiscard]] FramePassesPtr reduced(const FramePasses& full, int divisor);

} // namespace retinex::passes
