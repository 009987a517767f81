#pragma once

#include <QKeyEvent>
#include <QListWidget>

namespace retinex::app {

/// A list whose rows are named by a double click or F2, whatever F2 does elsewhere in the window.
class NamedList : public QListWidget
{
public:
    using QListWidget::QListWidget;

protected:
    bool event(QEvent* event) override
    {
        if (event->type() == QEvent::ShortcutOverride && static_cast<QKeyEvent*>(event)->key() == Qt::Key_F2)
            event->accept();
        return QListWidget::event(event);
    }
};

} // namespace retinex::app
