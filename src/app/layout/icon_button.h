#pragma once

#include <QToolButton>

namespace retinex::app {

/// A button with a picture; `help` is its tip and its name for assistive tools, `name` its object name.
[[nodiscard]] QToolButton* iconButton(const char* icon, const QString& help, const QString& name,
                                      int iconPx = 14);

} // namespace retinex::app
