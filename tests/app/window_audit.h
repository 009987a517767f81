#pragma once

#include <QStringList>
#include <QWidget>

namespace retinex::test {

/// What a person who looks at `root`, a window or a dialog that is shown, would find wrong with it, a line
/// for each: words that are cut, shortened without a tip or to a few letters, written over each other or with
/// a contrast below 4.5 : 1 (WCAG 2.1, success criterion 1.4.3; what is grey because it is off is left out,
/// as there); widgets that lie on each other, stick out of their parent or are lower than they need to be;
/// controls without a name for assistive tools, or with one that another of the same panel has.
[[nodiscard]] QStringList flawsOf(QWidget& root);

/// Controls that are enabled and that Tab does not come to, a line for each. The keyboard goes round once.
[[nodiscard]] QStringList outOfTabsReach(QWidget& root);

/// Nothing hides, cuts or covers it, once what scrolls is scrolled to it.
[[nodiscard]] bool isInSight(QWidget& widget);

} // namespace retinex::test
