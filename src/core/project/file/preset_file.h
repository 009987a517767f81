#pragma once

#include "core/project/settings/settings.h"

#include <filesystem>

/// Settings kept by themselves, to be used in other projects and by others: a lens with its iris, a finish.
namespace retinex::project {

enum class PresetKind {
    lens,  ///< a lens kit: f-stop, focal length, sensor, limits, iris, glints
    finish ///< all steps, glows and looks
};

/// Writes the settings of that kind as JSON. Throws Error.
void savePreset(const std::filesystem::path& file, PresetKind kind, const Settings& settings);

/// Lays what a file holds on `settings`; what it does not speak of is as usual. Throws Error naming the file,
/// where it is damaged, of another kind, or out of range: `settings` then are as before.
void loadPreset(const std::filesystem::path& file, PresetKind kind, Settings& settings);

} // namespace retinex::project
