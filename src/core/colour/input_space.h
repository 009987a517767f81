#pragma once

#include "core/base/image.h"
#include "core/base/run.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

/// The colour space a file's numbers are in. Inside, colour is scene-linear; files that hold something else
/// are converted as they are read, by OpenColorIO.
namespace retinex::colour {

/// Names of the configuration's colour spaces, scene-linear first.
[[nodiscard]] std::vector<std::string> inputSpaces();

/// The space a file is taken to be in where nobody says: scene-linear for EXR and every float format; for 8-
/// and 16-bit pictures the space of the configuration's `texture_paint` role, or else of `color_picking`:
/// sRGB in the shipped one.
[[nodiscard]] std::string defaultInputSpace(bool integerSamples);

/// True when numbers in `space` are scene-linear already ("" is).
[[nodiscard]] bool isSceneLinear(const std::string& space);

/// Converts colour from `space` to scene-linear, in place. `unassociated`: colour is not multiplied by alpha;
/// afterwards it is. An empty name, or that of the scene-linear space, changes no colour. Throws Error naming
/// the space when the configuration does not have it.
void toSceneLinear(RgbaImage& image, const std::string& space, bool unassociated, const Run& run = {});

/// The chromaticities (CIE 1931 x, y) of red, green, blue and white of the scene-linear space, as an EXR
/// header has them; nothing where the configuration does not say how it stands to ACES2065-1 (role
/// aces_interchange), whose own are those of SMPTE ST 2065-1.
[[nodiscard]] std::optional<std::array<float, 8>> sceneLinearChromaticities();

} // namespace retinex::colour
