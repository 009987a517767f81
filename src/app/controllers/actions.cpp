#include "app/controllers/actions.h"

#include <QMenu>

namespace retinex::app {

QAction* Actions::add(QMenu& menu, const QString& text, const QKeySequence& keys, std::function<void()> work)
{
    QAction* action = menu.addAction(text);
    action->setShortcut(keys);
    QObject::connect(action, &QAction::triggered, action, [work = std::move(work)] { work(); });
    m_all.append(action);
    return action;
}

} // namespace retinex::app
