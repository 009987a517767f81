#pragma once

#include "core/defocus/defocus.h"
#include "core/optics/units.h"
#include "core/passes/mattes.h"
#include "core/passes/pass_source.h"
#include "core/timeline/marks.h"

/// The settings of a piece of work: a plain value. The window edits copies of it, every render gets one.
namespace retinex::project {

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

struct Project
{
    passes::PassChoice colour;
    passes::PassChoice depth; ///< an empty file means the colour pass's file
    passes::PassOptions passOptions;
    std::vector<passes::MatteChoice> mattes;
    depth::ReadingSettings reading;
    SceneCamera scene; ///< cameras and points to take distances from
    int firstFrame = 1;
    int lastFrame = 1;

    double metresPerUnit = 1.0;              ///< scene scale
    optics::Unit unit = optics::Unit::metre; ///< that distances are shown in
    double fStop = 2.8;
    double focalLengthMm = 50.0;
    double sensorWidthMm = 36.0;
    double acceptedCocMm = 0.03; ///< 0.03 mm on a 36 mm wide sensor: common practice

    double focusDistance = 2.0; ///< scene units; used where there are no marks
    timeline::Marks marks;

    defocus::BlurControls blur;                    ///< held zone in scene units
    std::optional<defocus::SimpleLens> simpleLens; ///< in place of f-stop and focal length
    optics::Iris iris;
    std::filesystem::path irisPicture; ///< the file of iris.picture; empty: none
    defocus::GlintSettings glint;
    defocus::FrameEdge frameEdge = defocus::FrameEdge::continuePicture;

    /// Scene units.
    [[nodiscard]] double focusDistanceAt(double frame) const;
    [[nodiscard]] optics::ThinLens lensAt(double frame) const;
    [[nodiscard]] defocus::LensSettings settingsAt(double frame, double pixelAspect = 1.0) const;
    /// The reading with what it takes from the lens: the field of view, for distances along the ray.
    [[nodiscard]] depth::ReadingSettings readingForRender() const;
    [[nodiscard]] double metres(double sceneUnits) const { return sceneUnits * metresPerUnit; }
    [[nodiscard]] double fromMillimetres(double mm) const { return mm / (1000.0 * metresPerUnit); }
    [[nodiscard]] double millimetres(double sceneUnits) const { return sceneUnits * metresPerUnit * 1000.0; }

    friend bool operator==(const Project&, const Project&) = default;
};

/// "continue", "mirror", "open", as the project file and the command line have them.
[[nodiscard]] std::optional<defocus::FrameEdge> frameEdgeFromWord(std::string_view word) noexcept;
[[nodiscard]] std::string_view wordFor(defocus::FrameEdge edge) noexcept;

/// A project for freshly opened passes: the source's frame range, read as `proposal` says, focused on the
/// middle of its depth.
[[nodiscard]] Project projectFor(const passes::PassChoice& colour, const passes::PassChoice& depth,
                                 const passes::PassSource& source,
                                 const depth::ReadingSettings& reading = {});

} // namespace retinex::project
