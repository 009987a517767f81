#pragma once

#include <QAction>
#include <QKeySequence>
#include <QList>
#include <functional>

class QMenu;

namespace retinex::app {

/// Every action of the window, in the order of the menus; for the list of shortcuts.
class Actions
{
public:
    QAction* add(QMenu& menu, const QString& text, const QKeySequence& keys, std::function<void()> work);
    /// Those that others have made.
    void list(const QList<QAction*>& made) { m_all.append(made); }
    [[nodiscard]] const QList<QAction*>& all() const noexcept { return m_all; }

private:
    QList<QAction*> m_all;
};

} // namespace retinex::app
