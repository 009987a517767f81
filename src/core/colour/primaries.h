#pragma once

#include "core/colour/colorimetry.h"

#include <filesystem>
#include <optional>
#include <string>

/// The primaries of a file's colour, and the configuration's spaces that have them.
namespace retinex::colour {

/// Those of Rec. ITU-R BT.709-6, item 1.3 and 1.4: what an EXR file without the attribute has ("Technical
/// Introduction to OpenEXR", RGB Color).
inline constexpr Primaries kRec709{0.64F, 0.33F, 0.30F, 0.60F, 0.15F, 0.06F, 0.3127F, 0.3290F};

/// The scene-linear space that numbers with these primaries are in: one of the configuration's, or a name
/// that says the primaries themselves ("primaries 0.64 0.33 ..."), which toSceneLinear() and
/// fromSceneLinear() know. "" where the configuration does not say how it stands to ACES2065-1 (role
/// aces_interchange), so that nothing can be told.
[[nodiscard]] std::string linearSpaceWith(const Primaries& primaries);

/// The primaries that `space` ("" is scene-linear) has, whatever its curve; nothing likewise, and for data.
[[nodiscard]] std::optional<Primaries> primariesOf(const std::string& space);

/// The space that the configuration's file rules give a file; "" where none but the default one fits.
[[nodiscard]] std::string spaceByFileRules(const std::filesystem::path& file);

} // namespace retinex::colour
