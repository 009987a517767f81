#pragma once

#include "core/defocus/defocus.h"
#include "core/optics/units.h"
#include "core/passes/pass_source.h"
#include "core/timeline/marks.h"

/// The settings of a piece of work: a plain value. The window edits copies of it, every render gets one.
namespace retinex::project {

struct Project
{
    passes::PassChoice colour;
    passes::PassChoice depth; ///< an empty file means the colour pass's file
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

    optics::Iris iris;
    defocus::FrameEdge frameEdge = defocus::FrameEdge::continuePicture;

    /// Scene units.
    [[nodiscard]] double focusDistanceAt(double frame) const;
    [[nodiscard]] optics::ThinLens lensAt(double frame) const;
    [[nodiscard]] defocus::LensSettings settingsAt(double frame, double pixelAspect = 1.0) const;
    [[nodiscard]] double metres(double sceneUnits) const { return sceneUnits * metresPerUnit; }
    [[nodiscard]] double fromMillimetres(double mm) const { return mm / (1000.0 * metresPerUnit); }
    [[nodiscard]] double millimetres(double sceneUnits) const { return sceneUnits * metresPerUnit * 1000.0; }

    friend bool operator==(const Project&, const Project&) = default;
};

/// A project for freshly opened passes: the source's frame range; focused on the middle of its depth.
[[nodiscard]] Project projectFor(const passes::PassChoice& colour, const passes::PassChoice& depth,
                                 const passes::PassSource& source);

} // namespace retinex::project
