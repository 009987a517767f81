#include "app/dialogs/shortcut_list.h"

#include "app/look/style.h"

#include <QDialogButtonBox>
#include <QGridLayout>
#include <QLabel>
#include <QVBoxLayout>

namespace retinex::app {

ShortcutList::ShortcutList(const QList<QAction*>& actions, QWidget* parent) : QDialog(parent)
{
    setWindowTitle(tr("Shortcuts"));
    setObjectName(QStringLiteral("shortcutList"));
    auto* layout = new QVBoxLayout(this);
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(26);
    grid->setVerticalSpacing(6);
    layout->addLayout(grid);
    int index = 0;
    const auto add = [&](const QString& keys, const QString& what) {
        auto* key = new QLabel(keys);
        key->setFont(style::numberFont());
        const int column = index % 2 * 2;
        grid->addWidget(key, index / 2, column);
        grid->addWidget(new QLabel(what), index / 2, column + 1);
        ++index;
    };
    for (const QAction* action : actions)
        if (!action->shortcut().isEmpty())
            add(action->shortcut().toString(QKeySequence::NativeText),
                action->text().remove(QLatin1Char('&')).remove(QStringLiteral("…")));
    add(tr("Wheel"), tr("Zoom on the pointer"));
    add(tr("Space+drag"), tr("Pan the picture"));
    add(tr("Shift, Ctrl"), tr("Coarser, finer while a number is dragged"));
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    layout->addWidget(buttons);
}

} // namespace retinex::app
