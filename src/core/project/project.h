#pragma once

#include "core/optics/units.h"
#include "core/passes/mattes/mattes.h"
#include "core/passes/pass_source.h"
#include "core/project/delivery.h"
#include "core/project/settings/settings.h"
#include "core/system/shared_list.h"
#include "core/timeline/subject.h"

/// The settings of a piece of work: a plain value. The window edits copies of it, every render gets one.
namespace retinex::project {

constexpr int kMostFrames = 1'000'000; ///< of a project: eleven hours at 24 a second

/// A glTF scene file and where its time begins.
struct SceneCamera
{
    std::filesystem::path file; ///< empty: none
    std::string camera;         ///< its name; empty: the first
    double framesPerSecond = 24.0;
    double frameAtZero = 0.0; ///< the frame that time 0 of the file falls on

    [[nodiscard]] double secondsAt(double frame) const { return (frame - frameAtZero) / framesPerSecond; }
    friend bool operator==(const SceneCamera&, const SceneCamera&) = default;
};

/// A range of frames with its own settings, from its first frame to the next shot's.
struct Shot
{
    std::string name{};
    int firstFrame = 1; ///< the cut; of the first shot not looked at: it begins with the frames
    Settings settings{};
    Tracks tracks{};
    std::string camera{};  ///< of the scene file; "": the project's
    std::string unknown{}; ///< what its file holds that this version does not know, as JSON

    /// Of a setting; empty where it has none.
    [[nodiscard]] const timeline::Marks& marks(const SettingPath& path) const noexcept;

    friend bool operator==(const Shot&, const Shot&) = default;
};

/// A kept version of the settings with its picture.
struct Take
{
    std::string name{};
    int frame = 1;         ///< that the picture is of
    std::string picture{}; ///< a small PNG in base64 (RFC 4648); "" is none
    double metresPerUnit = 1.0;
    std::vector<timeline::Subject> subjects{}; ///< that marks may be bound to
    std::vector<Shot> shots{Shot{}};           ///< as in the project
    std::string unknown{};                     ///< as of a shot

    friend bool operator==(const Take&, const Take&) = default;
};

/// Which frames are played, and how fast.
struct Playing
{
    double framesPerSecond = 24.0;
    std::optional<int> in; ///< first and last frame; none: of those worked on
    std::optional<int> out;

    friend bool operator==(const Playing&, const Playing&) = default;
};

struct Project
{
    passes::PassChoice colour;
    passes::PassChoice depth; ///< an empty file means the colour pass's file
    passes::PassOptions passOptions;
    std::vector<passes::MatteChoice> mattes;
    SceneCamera scene; ///< cameras and points to take distances from
    int firstFrame = 1;
    int lastFrame = 1;

    double metresPerUnit = 1.0;              ///< scene scale
    optics::Unit unit = optics::Unit::metre; ///< that distances are shown in
    std::vector<timeline::Subject> subjects; ///< names differ
    std::vector<Shot> shots{Shot{}};         ///< never empty, in rising order of first frame
    SharedList<Take> takes;
    Playing playing;
    std::vector<Delivery> deliveries; ///< in the order they are made in
    std::string unknown;              ///< as of a shot

    [[nodiscard]] std::size_t shotIndexAt(double frame) const noexcept;
    [[nodiscard]] const Shot& shotAt(double frame) const noexcept { return shots[shotIndexAt(frame)]; }
    [[nodiscard]] Shot& shotAt(double frame) noexcept { return shots[shotIndexAt(frame)]; }
    /// The frames of a shot within those worked on; first > last where none of them is.
    [[nodiscard]] timeline::FrameRange framesOf(std::size_t shot) const noexcept;
    /// In to out, held to the frames worked on; never empty.
    [[nodiscard]] timeline::FrameRange playedFrames() const noexcept;
    /// The first shot's plain settings; a project of one shot has no others.
    [[nodiscard]] Settings& base() noexcept { return shots.front().settings; }
    [[nodiscard]] const Settings& base() const noexcept { return shots.front().settings; }
    [[nodiscard]] const timeline::Subject* subjectNamed(std::string_view name) const noexcept;
    [[nodiscard]] timeline::Subject* subjectNamed(std::string_view name) noexcept;

    /// The settings of a frame, those with marks at their value there.
    [[nodiscard]] Settings valuesAt(double frame) const;
    /// Scene units.
    [[nodiscard]] double focusDistanceAt(double frame) const { return valuesAt(frame).focusDistance; }
    /// As in a picture of that width, which the simple lens counts by.
    [[nodiscard]] optics::ThinLens lensAt(double frame, int width) const;
    /// For a picture at 1/divisor of the size: what is in px follows.
    [[nodiscard]] defocus::LensSettings lensSettingsAt(double frame, double pixelAspect = 1.0,
                                                       int divisor = 1) const;
    /// The reading as far as distances depend on it, with what it takes from the lens: the field of view, for
    /// distances along the ray.
    [[nodiscard]] depth::ReadingSettings readingAt(double frame) const;
    /// The first of each title, null where there is none; a list of thousands is gone through once.
    [[nodiscard]] std::vector<const passes::MatteChoice*>
    mattesTitled(const std::vector<std::string>& titles) const;
    /// The mattes that edge repair uses on a frame.
    [[nodiscard]] std::vector<passes::MatteChoice> edgeMattesAt(int frame) const;
    /// The scene file's camera of a frame's shot.
    [[nodiscard]] const std::string& cameraAt(double frame) const noexcept
    {
        const Shot& shot = shotAt(frame);
        return shot.camera.empty() ? scene.camera : shot.camera;
    }
    /// Whether depth is read on every frame as in `other`.
    [[nodiscard]] bool readsDepthLike(const Project& other) const;
    [[nodiscard]] double metres(double sceneUnits) const { return sceneUnits * metresPerUnit; }
    [[nodiscard]] double fromMillimetres(double mm) const { return mm / (1000.0 * metresPerUnit); }
    /// Of a lens of that focal length, in scene units; see project::nearestFocus().
    [[nodiscard]] double nearestFocus(double focalLengthMm) const
    {
        return project::nearestFocus(fromMillimetres(focalLengthMm));
    }
    [[nodiscard]] double millimetres(double sceneUnits) const { return sceneUnits * metresPerUnit * 1000.0; }

    /// Reads what comes with its file and is kept here: pictures of the iris.
    void readFilesAgain();

    friend bool operator==(const Project&, const Project&) = default;
};

/// A project for freshly opened passes: the source's frame range, read as `proposal` says, focused on the
/// middle of its depth.
[[nodiscard]] Project projectFor(const passes::PassChoice& colour, const passes::PassChoice& depth,
                                 const passes::PassSource& source,
                                 const depth::ReadingSettings& reading = {});

/// A project without passes: pictures hung upright in the middle of an empty frame of `options`, the first
/// one nearest, each further one twice as far; in focus is the first. Throws Error where there is no size.
[[nodiscard]] Project projectOfPictures(const std::vector<std::filesystem::path>& pictures,
                                        const passes::PassOptions& options);

} // namespace retinex::project
