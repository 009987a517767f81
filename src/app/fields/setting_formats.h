#pragma once

#include "app/document/document.h"
#include "app/fields/number_field.h"

namespace retinex::app {

/// Plain steps: arrow keys and scrubbing add `step`.
[[nodiscard]] NumberFormat steppedFormat(const QString& suffix, double minimum, double maximum,
                                         double defaultValue, double step, int digits = 3);
/// Shares of 1 shown in per cent.
[[nodiscard]] NumberFormat percentFormat(double minimum, double maximum, double defaultValue);
/// A length in the project's unit; in scene units inside. 0 is allowed.
[[nodiscard]] NumberFormat lengthFormat(const project::Project& project);

/// How a described number is written and stepped, wherever it is shown; `usual` is its default.
[[nodiscard]] NumberFormat settingFormat(const project::SettingInfo& info, double usual,
                                         const project::Project& project);
[[nodiscard]] NumberFormat settingFormat(const SettingPath& path, const project::Project& project);
/// Also takes "50 %", of `whole`; shown is what `format` shows.
[[nodiscard]] NumberFormat takingShares(NumberFormat format, double whole);
/// Also takes "2 ‰", of `whole`.
[[nodiscard]] NumberFormat takingPerMille(NumberFormat format, double whole);

} // namespace retinex::app
