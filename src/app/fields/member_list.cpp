#include "app/fields/member_list.h"

#include <QLineEdit>
#include <QShortcut>
#include <algorithm>

namespace retinex::app {

namespace {

constexpr int kRowsShown = 4;
const QLatin1String kParted("  "); ///< between name and words

} // namespace

MemberList::MemberList(const QString& name, QWidget* parent, Choice choice)
    : NamedList(parent), m_choice(choice)
{
    if (choice == Choice::several) setSelectionMode(ExtendedSelection);
    setAccessibleName(name);
    setDragDropMode(QAbstractItemView::InternalMove);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff); // long names are cut short with dots
    setTextElideMode(Qt::ElideRight);
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    connect(this, &QListWidget::currentRowChanged, this, [this](int row) {
        if (row >= 0 && row < static_cast<int>(m_rows.size()))
            emit chosenByHand(m_rows[static_cast<std::size_t>(row)].id);
    });
    // The list may be filled anew, which it must not be while its editor is open.
    connect(this, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
        QMetaObject::invokeMethod(
            this,
            [this, id = item->data(Qt::UserRole), text = item->text(), on = item->checkState()] {
                QListWidgetItem touched(text);
                touched.setData(Qt::UserRole, id);
                touched.setCheckState(on);
                itemTouched(touched);
            },
            Qt::QueuedConnection);
    });
    connect(model(), &QAbstractItemModel::rowsMoved, this, [this] {
        std::vector<std::string> ids;
        for (int row = 0; row < count(); ++row)
            ids.push_back(item(row)->data(Qt::UserRole).toString().toStdString());
        QMetaObject::invokeMethod(
            this, [this, ids] { emit reordered(ids); }, Qt::QueuedConnection);
    });
    for (const int way : {-1, 1}) {
        auto* move = new QShortcut(QKeySequence(Qt::ALT | (way < 0 ? Qt::Key_Up : Qt::Key_Down)), this,
                                   nullptr, nullptr, Qt::WidgetShortcut);
        connect(move, &QShortcut::activated, this, [this, way] { moveCurrent(way); });
    }
}

std::vector<std::string> MemberList::chosenIds() const
{
    std::vector<std::string> ids;
    for (int row = 0; row < count(); ++row)
        if (item(row)->isSelected()) ids.push_back(item(row)->data(Qt::UserRole).toString().toStdString());
    return ids;
}

void MemberList::moveCurrent(int way)
{
    std::vector<std::string> ids;
    for (const Row& row : m_rows)
        ids.push_back(row.id);
    const int from = currentRow();
    const int to = from + way;
    if (from < 0 || to < 0 || to >= static_cast<int>(ids.size())) return;
    std::swap(ids[static_cast<std::size_t>(from)], ids[static_cast<std::size_t>(to)]);
    emit reordered(ids);
}

void MemberList::itemTouched(const QListWidgetItem& item)
{
    const std::string id = item.data(Qt::UserRole).toString().toStdString();
    const auto row = std::ranges::find(m_rows, id, &Row::id);
    if (row == m_rows.end()) return;
    const std::string name = item.text().section(kParted, 0, 0).trimmed().toStdString();
    const bool on = item.checkState() == Qt::Checked;
    if (m_choice == Choice::one && on != row->isOn)
        emit switched(id, on);
    else if (!name.empty() && name != row->name)
        emit named(id, name);
    else
        emit refused();
}

void MemberList::setRows(const std::vector<Row>& rows, const std::string& chosen)
{
    const QSignalBlocker blocker(this);
    const bool isEditing = findChild<QLineEdit*>() != nullptr;
    const auto sameIds = std::ranges::equal(rows, m_rows, {}, &Row::id, &Row::id);
    m_rows = rows;
    if ((!sameIds && !isEditing) || count() == 0) {
        clear();
        for (std::size_t i = 0; i < rows.size(); ++i)
            addItem(new QListWidgetItem);
    }
    bool isChosen = false;
    for (std::size_t i = 0; i < std::min(rows.size(), static_cast<std::size_t>(count())); ++i) {
        QListWidgetItem* shown = item(static_cast<int>(i));
        shown->setFlags((shown->flags() | Qt::ItemIsEditable | Qt::ItemIsUserCheckable) &
                        ~Qt::ItemIsDropEnabled);
        if (m_choice == Choice::one) shown->setCheckState(rows[i].isOn ? Qt::Checked : Qt::Unchecked);
        shown->setData(Qt::UserRole, QString::fromStdString(rows[i].id));
        if (!isEditing) shown->setText(QString::fromStdString(rows[i].name) + kParted + rows[i].words);
        if (rows[i].id != chosen) continue;
        if (currentRow() != static_cast<int>(i)) setCurrentRow(static_cast<int>(i)); // several may be chosen
        isChosen = true;
    }
    if (!isChosen) setCurrentRow(-1);
    setVisible(!rows.empty());
    const int shownRows = std::clamp(static_cast<int>(rows.size()), 1, kRowsShown);
    setFixedHeight(shownRows * (rows.empty() ? 0 : sizeHintForRow(0)) + 4);
}

} // namespace retinex::app
