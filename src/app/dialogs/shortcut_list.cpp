#include "app/dialogs/shortcut_list.h"

#include "app/look/style.h"

#include <QDialogButtonBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QScreen>
#include <QSettings>
#include <QVBoxLayout>

namespace retinex::app {

namespace {

constexpr const char* kUsual = "usualKeys"; ///< property of an action

QString plainText(const QAction& action)
{
    return action.text().remove(QLatin1Char('&')).remove(QStringLiteral("…"));
}

QString keyOf(const QAction& action)
{
    return QStringLiteral("shortcuts/") + plainText(action).replace(QLatin1Char('/'), QLatin1Char('-'));
}

QKeySequence usualKeys(const QAction& action)
{
    const QVariant usual = action.property(kUsual);
    return usual.isValid() ? QKeySequence(usual.toString(), QKeySequence::PortableText) : action.shortcut();
}

/// Acts while it is held, which the window sees to by itself.
bool isFixed(const QAction& action)
{
    return action.shortcutContext() == Qt::WidgetShortcut;
}

} // namespace

void restoreShortcuts(const QList<QAction*>& actions)
{
    const QSettings settings;
    for (QAction* action : actions) {
        action->setProperty(kUsual, action->shortcut().toString(QKeySequence::PortableText));
        const QVariant changed = settings.value(keyOf(*action));
        if (changed.isValid() && !isFixed(*action))
            action->setShortcut(QKeySequence(changed.toString(), QKeySequence::PortableText));
    }
}

ShortcutList::ShortcutList(const QList<QAction*>& actions, QWidget* parent)
    : QDialog(parent), m_actions(actions), m_list(new QTreeWidget), m_keys(new QKeySequenceEdit),
      m_set(new QPushButton(tr("Set"))), m_none(new QPushButton(tr("No keys"))),
      m_usual(new QPushButton(tr("As usual"))), m_allUsual(new QPushButton(tr("All as usual"))),
      m_words(new QLabel)
{
    setWindowTitle(tr("Shortcuts"));
    setObjectName(QStringLiteral("shortcutList"));
    m_list->setObjectName(QStringLiteral("shortcuts"));
    m_list->setAccessibleName(tr("Shortcuts"));
    m_list->setColumnCount(2);
    m_list->setHeaderLabels({tr("What"), tr("Keys")});
    m_list->setRootIsDecorated(false);
    m_list->setUniformRowHeights(true);
    m_list->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    for (int i = 0; i < m_actions.size(); ++i) {
        if (m_actions[i]->isSeparator() || m_actions[i]->text().isEmpty()) continue;
        auto* item = new QTreeWidgetItem({plainText(*m_actions[i]), QString()});
        item->setData(0, Qt::UserRole, i);
        item->setFont(1, style::numberFont());
        m_list->addTopLevelItem(item);
    }
    addFixed(tr("Zoom on the pointer"), tr("Wheel"));
    addFixed(tr("Pan the picture"), tr("Space+drag"));
    addFixed(tr("Coarser, finer while a number is dragged"), tr("Shift, Ctrl"));
    m_keys->setObjectName(QStringLiteral("shortcutKeys"));
    m_keys->setAccessibleName(tr("Keys"));
    m_set->setObjectName(QStringLiteral("setShortcut"));
    m_none->setObjectName(QStringLiteral("noShortcut"));
    m_usual->setObjectName(QStringLiteral("usualShortcut"));
    m_allUsual->setObjectName(QStringLiteral("allUsualShortcuts"));
    m_words->setObjectName(QStringLiteral("shortcutWords"));
    m_words->setWordWrap(true);
    m_words->setText(tr("Choose a line, press the keys in the field, and set them."));
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    row->addWidget(m_keys, 1);
    for (QPushButton* button : {m_set, m_none, m_usual, m_allUsual}) {
        button->setAutoDefault(false);
        row->addWidget(button);
    }
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Close);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    auto* layout = new QVBoxLayout(this);
    layout->setSpacing(10);
    layout->addWidget(m_list, 1);
    layout->addLayout(row);
    layout->addWidget(m_words);
    layout->addWidget(buttons);
    connect(m_list, &QTreeWidget::currentItemChanged, this, &ShortcutList::choose);
    connect(m_set, &QPushButton::clicked, this, [this] { take(m_keys->keySequence()); });
    connect(m_none, &QPushButton::clicked, this, [this] { take({}); });
    connect(m_usual, &QPushButton::clicked, this, [this] {
        if (QAction* action = chosen()) take(usualKeys(*action));
    });
    connect(m_allUsual, &QPushButton::clicked, this, [this] {
        for (QAction* action : m_actions) {
            QSettings().remove(keyOf(*action));
            if (!isFixed(*action)) action->setShortcut(usualKeys(*action));
        }
        m_words->setText(tr("All keys are as usual."));
        refresh();
    });
    const QSize room = screen()->availableSize() - QSize(40, 80); // a frame is around the window
    resize(QSize(620, 640).boundedTo(room));
    refresh();
    choose();
}

void ShortcutList::addFixed(const QString& what, const QString& keys)
{
    auto* item = new QTreeWidgetItem({what, keys});
    item->setData(0, Qt::UserRole, -1);
    item->setFont(1, style::numberFont());
    m_list->addTopLevelItem(item);
}

QAction* ShortcutList::chosen() const
{
    const QTreeWidgetItem* item = m_list->currentItem();
    const int index = item ? item->data(0, Qt::UserRole).toInt() : -1;
    return index < 0 || isFixed(*m_actions[index]) ? nullptr : m_actions[index];
}

void ShortcutList::choose()
{
    const QAction* action = chosen();
    for (QWidget* widget : {static_cast<QWidget*>(m_keys), static_cast<QWidget*>(m_set),
                            static_cast<QWidget*>(m_none), static_cast<QWidget*>(m_usual)})
        widget->setEnabled(action != nullptr);
    m_keys->setKeySequence(action ? action->shortcut() : QKeySequence());
    if (m_list->currentItem() && !action)
        m_words->setText(tr("These keys act while they are held, and stay as they are."));
}

void ShortcutList::take(const QKeySequence& keys)
{
    QAction* action = chosen();
    if (!action) return;
    for (const QAction* other : m_actions)
        if (other != action && !keys.isEmpty() && other->shortcuts().contains(keys)) {
            m_words->setText(tr("%1 belongs to \"%2\". Give that other keys first.")
                                 .arg(keys.toString(QKeySequence::NativeText), plainText(*other)));
            return;
        }
    action->setShortcut(keys);
    if (keys == usualKeys(*action))
        QSettings().remove(keyOf(*action));
    else
        QSettings().setValue(keyOf(*action), keys.toString(QKeySequence::PortableText));
    m_words->setText(
        keys.isEmpty()
            ? tr("\"%1\" has no keys now.").arg(plainText(*action))
            : tr("\"%1\" is %2 now.").arg(plainText(*action), keys.toString(QKeySequence::NativeText)));
    refresh();
    m_keys->setKeySequence(keys);
}

void ShortcutList::refresh()
{
    for (int row = 0; row < m_list->topLevelItemCount(); ++row) {
        QTreeWidgetItem* item = m_list->topLevelItem(row);
        const int index = item->data(0, Qt::UserRole).toInt();
        if (index < 0) continue;
        const QAction& action = *m_actions[index];
        item->setText(1, action.shortcut().toString(QKeySequence::NativeText));
        const bool isChanged = action.shortcut() != usualKeys(action);
        QFont font = item->font(0);
        font.setBold(isChanged);
        item->setFont(0, font);
        item->setToolTip(1, isChanged
                                ? tr("Usually %1").arg(usualKeys(action).toString(QKeySequence::NativeText))
                                : QString());
    }
}

} // namespace retinex::app
