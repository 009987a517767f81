#pragma once

#include <QAction>
#include <QDialog>
#include <QList>

namespace retinex::app {

/// All shortcuts in one window.
class ShortcutList : public QDialog
{
    Q_OBJECT

public:
    explicit ShortcutList(const QList<QAction*>& actions, QWidget* parent = nullptr);
};

} // namespace retinex::app
