#pragma once

#include <QAction>
#include <QDialog>
#include <QKeySequenceEdit>
#include <QLabel>
#include <QList>
#include <QPushButton>
#include <QTreeWidget>

namespace retinex::app {

/// All shortcuts in one window, to look up and to change. Keys that two would have are refused, with the one
/// that has them; those that act while they are held stay as they are.
class ShortcutList : public QDialog
{
    Q_OBJECT

public:
    explicit ShortcutList(const QList<QAction*>& actions, QWidget* parent = nullptr);

private:
    void addFixed(const QString& what, const QString& keys);
    [[nodiscard]] QAction* chosen() const;
    void choose();
    void take(const QKeySequence& keys);
    void refresh();

    QList<QAction*> m_actions;
    QTreeWidget* m_list;
    QKeySequenceEdit* m_keys;
    QPushButton* m_set;
    QPushButton* m_none;
    QPushButton* m_usual;
    QPushButton* m_allUsual;
    QLabel* m_words;
};

/// Keys that were changed on this machine, over the usual ones. Called once all actions are made.
void restoreShortcuts(const QList<QAction*>& actions);

} // namespace retinex::app
