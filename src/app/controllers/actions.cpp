#include "app/controllers/actions.h"

#include <QMenu>

namespace retinex::app {

QAction* Actions::add(QMenu& menu, const QString& text, const QKeySequence& keys, std::function<void()> work,
                      When when)
{
    QAction* action = menu.addAction(text);
    action->setShortcut(keys);
    QObject::connect(action, &QAction::triggered, action, [work = std::move(work)] { work(); });
    m_all.append(action);
    if (when != When::always) m_when.append({action, when});
    action->setEnabled(when == When::always);
    return action;
}

void Actions::enable(bool isOpen, bool isSequence)
{
    for (const auto& [action, when] : m_when)
        action->setEnabled(when == When::open ? isOpen : isSequence);
}

} // namespace retinex::app
