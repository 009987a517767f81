#pragma once

#include "core/finish/finish_steps.h"
#include "core/project/settings/setting.h"

/// The settings of finish, described once: of its steps, and of each glow and look.
namespace retinex::project {

struct Settings;

[[nodiscard]] const Description<finish::Glow>& glowSettings();
[[nodiscard]] const Description<finish::Look>& lookSettings();
[[nodiscard]] std::vector<Field<Settings>> finishFields();

} // namespace retinex::project
