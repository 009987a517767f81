#pragma once

#include "core/passes/exr/exr_file.h"

#include <optional>
#include <string>

namespace retinex::passes {

/// What a file's header says of the camera, in standard EXR attributes. Offered for the lens, never forced.
struct CameraData
{
    std::optional<double> focusMetres;     ///< `focus`
    std::optional<double> fStop;           ///< `aperture`
    std::optional<double> fieldOfViewDeg;  ///< across the width, from `worldToNDC`
    std::optional<double> pixelAspect;     ///< `pixelAspectRatio`, where it is not 1
    std::optional<double> framesPerSecond; ///< `framesPerSecond`
    bool hasWorldToCamera = false;         ///< `worldToCamera` is there

    [[nodiscard]] bool isEmpty() const noexcept;
    /// "focus 2.4 m, f/1.4, field of view 48.5 degrees, 24 frames a second"; "" when empty.
    [[nodiscard]] std::string inWords() const;
};

/// `header` may be null. Values that make no sense (not finite, not positive) are left out.
[[nodiscard]] CameraData cameraData(const HeaderPtr& header);

/// Focal length that gives a field of view across a sensor of this width: w / (2 tan(a / 2)).
[[nodiscard]] double focalLengthFor(double fieldOfViewDeg, double sensorWidthMm) noexcept;
/// The inverse, degrees.
[[nodiscard]] double fieldOfViewFor(double focalLengthMm, double sensorWidthMm) noexcept;

} // namespace retinex::passes
