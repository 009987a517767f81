#pragma once

#include <QAction>
#include <QKeySequence>
#include <QList>
#include <functional>
#include <utility>

class QMenu;

namespace retinex::app {

/// What there has to be for an action to do something.
enum class When { always, open, sequence };

/// Every action of the window, in the order of the menus; for the list of shortcuts.
class Actions
{
public:
    QAction* add(QMenu& menu, const QString& text, const QKeySequence& keys, std::function<void()> work,
                 When when = When::always);
    /// Those that others have made.
    void list(const QList<QAction*>& made) { m_all.append(made); }
    [[nodiscard]] const QList<QAction*>& all() const noexcept { return m_all; }
    /// Those that can do nothing now are grey.
    void enable(bool isOpen, bool isSequence);

private:
    QList<QAction*> m_all;
    QList<std::pair<QAction*, When>> m_when;
};

} // namespace retinex::app
