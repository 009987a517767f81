#pragma once

#include "core/colour/primaries.h"
#include "core/image/image.h"
#include "core/system/run.h"

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

/// The colour space a file's numbers are in. Inside, colour is scene-linear; files that hold something else
/// are converted as they are read, by OpenColorIO.
namespace retinex::colour {

/// Names of the configuration's colour spaces, scene-linear first.
[[nodiscard]] std::vector<std::string> inputSpaces();

/// The space that pictures for a screen are in: that of the configuration's `texture_paint` role, or else of
/// `color_picking`: sRGB in the shipped one.
[[nodiscard]] std::string screenSpace();

/// The space a file's colour is taken to be in where nobody says, and how that is known.
struct InputSpace
{
    enum class From {
        file,      ///< its header has the primaries
        fileRules, ///< the configuration says so
        assumed    ///< nothing says so: Rec. 709, linear for floats (the OpenEXR standard), else for a screen
    };
    std::string name;
    From from = From::assumed;
};
/// `primaries`: those in the file's header.
[[nodiscard]] InputSpace inputSpaceOf(const std::filesystem::path& file, bool integerSamples,
                                      const std::optional<Primaries>& primaries);

/// The state of the configuration of colour spaces, as text: equal where conversions are.
[[nodiscard]] std::string configurationState();

/// True when numbers in `space` are scene-linear already ("" is).
[[nodiscard]] bool isSceneLinear(const std::string& space);

/// Converts colour from `space` to scene-linear, in place. `unassociated`: colour is not multiplied by alpha;
/// afterwards it is. An empty name, or that of the scene-linear space, changes no colour. Throws Error naming
/// the space when the configuration does not have it.
void toSceneLinear(RgbaImage& image, const std::string& space, bool unassociated, const Run& run = {});

} // namespace retinex::colour
