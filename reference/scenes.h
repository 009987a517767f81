#pragma once

#include "core/defocus/defocus.h"
#include "reference/tracer.h"

#include <string>
#include <vector>

namespace retinex::reference {

/// A scene with its camera and lens, for measuring the engine against the tracer.
struct Trial
{
    std::string name;
    Scene scene;
    Camera camera; ///< framed for 16:9; the caller sets the size
    LensSampling lens;
};

/// The lens engine's settings for a traced lens.
[[nodiscard]] defocus::LensSettings engineSettings(const Camera& camera, const LensSampling& lens);

/// Names of all trials, in the order of the tables.
[[nodiscard]] const std::vector<std::string>& trialNames();
/// Scenes that the lens engine was never tuned on; reported apart.
[[nodiscard]] const std::vector<std::string>& keptOutTrialNames();
/// Builds one; an unknown name throws Error.
[[nodiscard]] Trial makeTrial(const std::string& name);

} // namespace retinex::reference
