#pragma once

#include "app/fields/number_field.h"
#include "app/fields/value_label.h"
#include "core/project/project.h"

namespace retinex::app {

/// "f/2.8", "85 mm", "0.03": a number after `prefix`, before `suffix`; both may be left out when typing.
[[nodiscard]] NumberFormat plainFormat(const QString& prefix, const QString& suffix, double minimum,
                                       double maximum, double defaultValue, int digits);
/// What one scene unit is, in metres; typed in metres or with a unit ("1 mm").
[[nodiscard]] NumberFormat scaleFormat();
/// A distance in scene units, shown and typed in the project's unit.
[[nodiscard]] NumberFormat distanceFormat(const project::Project& project, double minimum,
                                          double defaultValue);
/// A length in scene units for messages and labels: "3.42 m".
[[nodiscard]] QString shownDistance(const project::Project& project, double units);

} // namespace retinex::app
