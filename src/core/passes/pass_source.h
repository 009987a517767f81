#pragma once

#include "core/image/motion_vectors.h"
#include "core/image/object_shares.h"
#include "core/passes/frames/fit_size.h"
#include "core/passes/frames/frame_passes.h"
#include "core/passes/layers.h"
#include "core/passes/mattes/mattes.h"
#include "core/passes/pass_choice.h"
#include "core/passes/scene/camera_data.h"
#include "core/passes/sequence.h"
#include "core/system/memory_budget.h"
#include "core/system/words.h"

#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <typeindex>

namespace retinex::passes {

/// What a frame that one of the passes lacks becomes.
enum class MissingFrames {
    stop, ///< an error that lists them
    hold, ///< the last frame there is stands in
    black ///< nothing: black, alpha 0, all gaps
};

/// How passes are read, besides where from.
struct PassOptions
{
    PassChoice alpha; ///< a file (and channel) for alpha; an empty file means the colour layer's own
    /// A file (and layer) for motion vectors; an empty file means those found in the colour or depth pass.
    PassChoice motion;
    std::string inputSpace; ///< of the colour pass; "" means by the file (see colour/input_space.h)
    MissingFrames missing = MissingFrames::stop;
    SizeFit sizeFit = SizeFit::scale;
    /// There is no depth pass: all is a gap until a reading and regions say otherwise.
    bool handMadeDepth = false;
    /// Without a colour pass: the size of an empty frame in px, which inserts fill. 0: there is a colour
    /// pass.
    int emptyWidth = 0;
    int emptyHeight = 0;
    int stillFirst = 1; ///< the frames of an empty frame, or that a still is held for
    int stillLast = 1;
    std::string eye; ///< of a stereo render; "": the first
    [[nodiscard]] bool isEmptyFrame() const noexcept { return emptyWidth > 0; }
    friend bool operator==(const PassOptions&, const PassOptions&) = default;
};

/// How a source keeps what it has read and made.
struct Keeping
{
    MemoryBudgetPtr budget = std::make_shared<MemoryBudget>(); ///< shared with other caches; not null
    double share = 0.25;   ///< of the budget: what frames may take, whatever the others need
    std::size_t least = 2; ///< of each kind (as read, with distances, ...) that stay whatever they take

    /// For frames that are looked at once, one after the other.
    [[nodiscard]] static Keeping oneByOne() { return {std::make_shared<MemoryBudget>(), 0.0, 1}; }
};

/// What somebody keeps of what they make of a source's frames; see PassSource::kept().
class KeptOfFrames
{
public:
    KeptOfFrames() = default;
    virtual ~KeptOfFrames() = default;
    KeptOfFrames(const KeptOfFrames&) = delete;
    KeptOfFrames& operator=(const KeptOfFrames&) = delete;
    /// Lets go of pictures; what is small may stay.
    virtual void forgetFrames() = 0;
};

/// Reads the frames of a colour pass and a depth pass. Thread-safe; keeps what it has read in memory, so that
/// a change of reading alone reads no file. What is loaded on behalf of a Run reads with its threads, hears
/// its stop (Cancelled) and is the same for any Run.
class PassSource
{
public:
    /// Finds sequences, layers and channels. An empty depth file means the colour file. Throws Error naming
    /// the file when something is missing or does not fit. With an empty colour file and the size of an empty
    /// frame there are no files: every frame is black and open, all of it a gap.
    PassSource(const PassChoice& colour, const PassChoice& depth, PassOptions options = {},
               Keeping keeping = {});
    ~PassSource();
    PassSource(const PassSource&) = delete;
    PassSource& operator=(const PassSource&) = delete;

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
    /// Of motion vectors; nothing where there are none.
    [[nodiscard]] const std::optional<Sequence>& motionFiles() const noexcept { return m_motionFiles; }
    [[nodiscard]] const MotionChannels& motionChannels() const noexcept { return m_motionChannels; }
    [[nodiscard]] const FileInfo& colourInfo() const noexcept { return m_colourInfo; } ///< of the first frame
    [[nodiscard]] const FileInfo& depthInfo() const noexcept { return m_depthInfo; }
    [[nodiscard]] const ColourLayer& colourLayer() const noexcept { return m_colourLayer; }
    /// The eyes that the colour pass has; empty for no stereo render.
    [[nodiscard]] const std::vector<std::string>& eyes() const noexcept { return m_eyes; }
    /// The one that is read; "" of none.
    [[nodiscard]] const std::string& eye() const noexcept { return m_eye; }
    /// One picture each: there are as many frames as are asked for (PassOptions::stillFirst, stillLast).
    [[nodiscard]] bool isStill() const noexcept { return m_colourFiles.isStill() && m_depthFiles.isStill(); }
    [[nodiscard]] const DepthChannel& depthChannel() const noexcept { return m_depthChannel; }
    [[nodiscard]] const PassOptions& options() const noexcept { return m_options; }
    /// The colour space the colour pass is taken to be in.
    [[nodiscard]] const std::string& inputSpace() const noexcept { return m_inputSpace.name; }
    /// Neither the file, nor the configuration, nor a person says so.
    [[nodiscard]] bool isSpaceAssumed() const noexcept
    {
        return m_options.inputSpace.empty() && m_inputSpace.from == colour::InputSpace::From::assumed;
    }
    /// The scene-linear space with the primaries of the colour pass: what comes out has them again. "": the
    /// configuration's own.
    [[nodiscard]] const std::string& nativeSpace() const noexcept { return m_nativeSpace; }
    [[nodiscard]] int width() const noexcept { return m_window.width(); }
    [[nodiscard]] int height() const noexcept { return m_window.height(); }
    /// "" or a sentence that says how passes of different sizes are brought together.
    [[nodiscard]] std::string sizeNotice() const;

    /// First and last frame that both passes have; of stills those that they are held for.
    [[nodiscard]] int firstFrame() const noexcept { return m_firstFrame; }
    [[nodiscard]] int lastFrame() const noexcept { return m_lastFrame; }
    /// Frames from first to last that one of the passes lacks.
    [[nodiscard]] std::vector<int> missingFrames() const;
    /// Throws Error listing those of `frames` that are missing, where missing frames stop the work.
    void requireFrames(const std::vector<int>& frames) const;

    /// The passes as read, without distances. Throws Error when the frame is missing or damaged.
    [[nodiscard]] RawPassesPtr loadRaw(int frame, const Run& run = {}) const;
    /// With the distances that a reading makes of them. Throws Error likewise.
    [[nodiscard]] FramePassesPtr load(int frame, const depth::ReadingSettings& reading = {},
                                      const Run& run = {}) const;
    /// The distances of a frame alone; read anew where they are not kept, and not kept then. Throws Error
    /// likewise.
    [[nodiscard]] depth::DistanceResult loadDistance(int frame, const depth::ReadingSettings& reading = {},
                                                     const Run& run = {}) const;
    /// What mattes say of a frame, as large as its planes (RawPasses); null
    /// without mattes and for a black frame. The last ones are kept. Throws Error as readMatteObjects does.
    [[nodiscard]] ObjectSharesPtr loadObjects(int frame, const std::vector<MatteChoice>& mattes,
                                              const Run& run = {}) const;
    /// The motion vectors of a frame, as large as that. Throws Error when the frame has none, or they are of
    /// another size or damaged.
    [[nodiscard]] MotionVectors loadMotion(int frame, const Run& run = {}) const;
    /// What others keep of what they make of its frames, one of each kind, as long as the source is there:
    /// a KeptOfFrames, made of keeping() when it is asked for first.
    template <class Kind>
    [[nodiscard]] Kind& kept() const
    {
        const std::lock_guard lock(m_othersMutex);
        auto& slot = m_others[std::type_index(typeid(Kind))];
        if (!slot) slot = std::make_unique<Kind>(keeping());
        return static_cast<Kind&>(*slot);
    }
    [[nodiscard]] const Keeping& keeping() const noexcept;
    /// The file of a frame, or what stands in for it where missing frames are held; nothing where it is not
    /// there.
    [[nodiscard]] std::optional<std::filesystem::path> fileOf(const Sequence& files, int frame) const;
    /// What a frame is read from, or what stands in for it; of a black frame nothing. A file that is missing
    /// where missing frames stop the work is left out.
    [[nodiscard]] std::vector<std::filesystem::path> filesOf(int frame) const;
    /// What a further file is beside the colour pass (see Sequence::findBeside), looked for once; null where
    /// nothing is there.
    [[nodiscard]] const Sequence* filesBeside(const std::filesystem::path& file) const;
    /// Whether colour is brought to scene-linear by the configuration of colour spaces.
    [[nodiscard]] bool needsConversion() const noexcept { return !m_isLinear; }
    /// In which state the files of all frames are (see file_state.h), as looked at once.
    [[nodiscard]] const std::string& filesState() const;
    /// Lets go of the frames that are kept; they are read again when they are asked for.
    void forgetFrames() const;
    /// Reads a frame's files into memory, for a load() to come; errors are left to that.
    void prefetch(int frame, const Run& run = {}) const noexcept;

private:
    explicit PassSource(std::string absentBecause);
    void requirePresent() const;
    void makeEmpty();
    void findFiles(const PassChoice& colour, const PassChoice& depth);
    void chooseEye();
    void findMotion();
    void findRange();
    [[nodiscard]] RawPassesPtr read(int frame, const Run& run) const;
    [[nodiscard]] FramePassesPtr kept(int frame, const depth::ReadingSettings& reading) const;
    [[nodiscard]] RawPassesPtr blackFrame() const;
    [[nodiscard]] std::filesystem::path fileFor(const Sequence& files, int frame) const;
    [[nodiscard]] bool isBlack(int frame) const;
    [[nodiscard]] std::string stateOf(int frame) const; ///< of its files
    void readAlpha(int frame, const PixelBox& window, RgbaImage& colour, const Run& run) const;

    Sequence m_colourFiles;
    Sequence m_depthFiles;
    std::optional<Sequence> m_alphaFiles;
    std::optional<Sequence> m_motionFiles;
    MotionChannels m_motionChannels;
    FileInfo m_colourInfo;
    FileInfo m_depthInfo;
    std::vector<std::string> m_eyes;
    std::string m_eye;
    ColourLayer m_colourLayer;
    DepthChannel m_depthChannel;
    DepthChannel m_alphaChannel;
    PassOptions m_options;
    colour::InputSpace m_inputSpace;
    std::string m_nativeSpace;
    bool m_isLinear = true; ///< the colour pass needs no conversion
    PixelBox m_window;      ///< display window of the colour pass
    PixelBox m_depthWindow; ///< display window of the depth pass
    int m_firstFrame = 1;
    int m_lastFrame = 1;

    std::string m_absentBecause;
    struct Kept;
    std::unique_ptr<Kept> m_kept; ///< thread-safe
    mutable std::mutex m_othersMutex;
    mutable std::map<std::type_index, std::unique_ptr<KeptOfFrames>> m_others;
    mutable std::once_flag m_stateAsked;
    mutable std::string m_filesState;
    mutable std::mutex m_besideMutex;
    mutable std::map<std::filesystem::path, Sequence> m_beside;
};

} // namespace retinex::passes

namespace retinex {

template <>
inline constexpr std::array<std::string_view, 3> kWords<passes::MissingFrames>{"stop", "hold", "black"};

} // namespace retinex
