#pragma once

#include "app/fields/number_field.h"
#include "core/project/project.h"

#include <QLabel>

namespace retinex::app {

/// "f/2.8", "85 mm", "0.03": a number after `prefix`, before `suffix`; both may be left out when typing.
[[nodiscard]] NumberFormat plainFormat(const QString& prefix, const QString& suffix, double minimum,
                                       double maximum, double defaultValue, int digits);
/// A distance in scene units, shown and typed in the project's unit.
[[nodiscard]] NumberFormat distanceFormat(const project::Project& project, double minimum,
                                          double defaultValue);
/// A length in scene units for messages and labels: "3.42 m".
[[nodiscard]] QString shownDistance(const project::Project& project, double units);
/// A label for a value that cannot be edited; it can be selected and copied.
[[nodiscard]] QLabel* valueLabel(const char* name);
/// A label of dim words that wrap.
[[nodiscard]] QLabel* wordsLabel(const char* name);

} // namespace retinex::app
