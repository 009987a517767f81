#pragma once

#include <QPoint>

class QApplication;
class QWidget;

namespace retinex::app {

/// A property of widgets that show tips themselves.
inline constexpr const char* kOwnTip = "ownTip";

/// Where QToolTip::showText puts a tip below a widget.
[[nodiscard]] QPoint belowFor(const QWidget& widget);

/// From now on tips of fields and buttons come below them, so that they cover nothing they speak of. Large
/// widgets, whose tip is about a place in them, keep theirs beside the pointer.
void placeTipsBelow(QApplication& application);

} // namespace retinex::app
