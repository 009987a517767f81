#include "app/dialogs/shortcut_list.h"

#include "app/look/style.h"

#include <QDialogButtonBox>
#include <QGridLayout>
#include <QLabel>
#include <QScreen>
#include <QScrollArea>
#include <QVBoxLayout>

namespace retinex::app {

ShortcutList::ShortcutList(const QList<QAction*>& actions, QWidget* parent) : QDialog(parent)
{
    setWindowTitle(tr("Shortcuts"));
    setObjectName(QStringLiteral("shortcutList"));
    auto* layout = new QVBoxLayout(this);
    // On a small screen the list scrolls.
    auto* area = new QScrollArea;
    area->setObjectName(QStringLiteral("shortcutArea"));
    area->setWidgetResizable(true);
    area->setFrameShape(QFrame::NoFrame);
    auto* content = new QWidget;
    auto* grid = new QGridLayout(content);
    grid->setHorizontalSpacing(26);
    grid->setVerticalSpacing(6);
    layout->addWidget(area, 1);
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
    area->setWidget(content);
    const QSize room = screen()->availableSize() - QSize(40, 80); // a frame is around the window
    const QSize wanted = content->sizeHint() + QSize(60, 80);
    resize(wanted.boundedTo(room));
}

} // namespace retinex::app
