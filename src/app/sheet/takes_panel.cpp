#include "app/sheet/takes_panel.h"

#include "app/fields/named_list.h"
#include "app/fields/number_formats.h"
#include "app/look/style.h"
#include "core/project/takes.h"

#include <QAction>
#include <QBuffer>
#include <QHBoxLayout>
#include <QStyledItemDelegate>

namespace retinex::app {

namespace {

constexpr QSize kPicture{112, 63};
constexpr int kRows = 3; ///< in sight

QImage pictureOf(const project::Take& take)
{
    return QImage::fromData(QByteArray::fromBase64(QByteArray::fromStdString(take.picture)), "PNG");
}

/// "frame 12: f/1.4, 2.30 m" of the take's settings there.
QString inWords(const project::Project& project, const project::Take& take)
{
    const project::Project kept = project::withTake(project, take);
    const project::Settings values = kept.valuesAt(take.frame);
    const QString lens = values.simpleLens ? TakesPanel::tr("simple lens")
                                           : QStringLiteral("f/%1").arg(values.fStop, 0, 'g', 3);
    return TakesPanel::tr("frame %1: %2, %3")
        .arg(take.frame)
        .arg(lens, shownDistance(kept, values.focusDistance));
}

/// The name, which can be edited, and below it what the take is.
class TakeDelegate : public QStyledItemDelegate
{
public:
    using QStyledItemDelegate::QStyledItemDelegate;

protected:
    void initStyleOption(QStyleOptionViewItem* option, const QModelIndex& index) const override
    {
        QStyledItemDelegate::initStyleOption(option, index);
        option->text += QChar(QChar::LineSeparator) + index.data(Qt::UserRole).toString();
        option->displayAlignment = Qt::AlignLeft | Qt::AlignVCenter;
    }
};

} // namespace

TakesPanel::TakesPanel(Document& document, Section& section, QObject* parent)
    : QObject(parent), m_document(document), m_section(section), m_list(new NamedList)
{
    m_list->setObjectName(QStringLiteral("takes"));
    m_list->setAccessibleName(tr("Takes"));
    m_list->setIconSize(kPicture);
    m_list->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    m_list->setItemDelegate(new TakeDelegate(m_list));
    m_list->setSpacing(1);
    m_list->setUniformItemSizes(true);
    m_list->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed);
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_list->setTextElideMode(Qt::ElideRight);
    m_list->setToolTip(tr("Double click or F2 names a take."));
    m_list->setContextMenuPolicy(Qt::ActionsContextMenu);
    section.addWide(m_list);
    auto* buttons = new QWidget;
    auto* row = new QHBoxLayout(buttons);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    const auto button = [&](const QString& text, const char* name, const QString& help) {
        auto* made = new QPushButton(text);
        made->setObjectName(QLatin1String(name));
        made->setToolTip(help);
        made->setMinimumWidth(40);
        auto* action = new QAction(text, m_list); // the same by a right click on a take
        connect(action, &QAction::triggered, made, &QPushButton::click);
        m_list->addAction(action);
        made->setStyleSheet(QStringLiteral("padding-left: 2px; padding-right: 2px;"));
        row->addWidget(made, 1);
        return made;
    };
    connect(button(tr("Keep"), "keepTake", tr("Keep the present settings as a take (T)")),
            &QPushButton::clicked, this, &TakesPanel::keepAsked);
    m_compare = button(tr("Compare"), "compareTake", tr("The present picture with this take, by a wipe (W)"));
    m_restore = button(tr("Restore"), "restoreTake", tr("Work on with the settings of this take"));
    m_remove = button(tr("Delete"), "deleteTake", tr("Delete this take"));
    section.addWide(buttons);
    connect(m_compare, &QPushButton::clicked, this, [this] {
        if (const auto* take = chosen()) emit compareAsked(take->name);
    });
    connect(m_restore, &QPushButton::clicked, this, &TakesPanel::restore);
    connect(m_remove, &QPushButton::clicked, this, &TakesPanel::remove);
    connect(m_list, &QListWidget::itemChanged, this, [this](const QListWidgetItem* item) {
        // The list may be filled anew, which it must not be while its editor is open.
        QMetaObject::invokeMethod(
            this, [this, row = m_list->row(item), text = item->text()] { rename(row, text); },
            Qt::QueuedConnection);
    });
    connect(m_list, &QListWidget::currentRowChanged, this, [this] {
        for (QPushButton* each : {m_compare, m_restore, m_remove})
            each->setEnabled(chosen() != nullptr);
    });
    connect(&document, &Document::projectChanged, this, &TakesPanel::refresh);
    connect(&document, &Document::opened, this, &TakesPanel::refresh);
    refresh();
}

QString TakesPanel::summary() const
{
    const std::size_t count = m_document.project().takes.size();
    return count == 0   ? tr("none kept yet")
           : count == 1 ? QString::fromStdString(m_document.project().takes.items().front().name)
                        : tr("%1 kept, the last is %2")
                              .arg(count)
                              .arg(QString::fromStdString(m_document.project().takes.items().back().name));
}

const project::Take* TakesPanel::chosen() const
{
    const int row = m_list->currentRow();
    const auto& takes = m_document.project().takes.items();
    return row >= 0 && row < static_cast<int>(takes.size()) ? &takes[static_cast<std::size_t>(row)] : nullptr;
}

void TakesPanel::keep(const QImage& picture)
{
    const project::Project& project = m_document.project();
    project::Take take = project::takeOf(project, project::nameForTake(project), m_document.frame());
    QByteArray png;
    QBuffer buffer(&png);
    buffer.open(QIODevice::WriteOnly);
    if (picture.save(&buffer, "PNG")) take.picture = png.toBase64().toStdString();
    const QString name = QString::fromStdString(take.name);
    project::Project changed = project;
    std::vector<project::Take> takes = project.takes.items();
    takes.push_back(std::move(take));
    changed.takes = std::move(takes);
    m_document.edit(tr("keep %1").arg(name), changed);
    m_section.setFolded(false);
    m_list->setCurrentRow(m_list->count() - 1);
}

void TakesPanel::restore()
{
    const auto* take = chosen();
    if (!take) return;
    m_document.edit(tr("restore %1").arg(QString::fromStdString(take->name)),
                    project::withTake(m_document.project(), *take));
}

void TakesPanel::remove()
{
    const auto* take = chosen();
    if (!take) return;
    project::Project changed = m_document.project();
    std::vector<project::Take> takes = changed.takes.items();
    takes.erase(takes.begin() + m_list->currentRow());
    const QString what = tr("delete %1").arg(QString::fromStdString(take->name));
    changed.takes = std::move(takes);
    m_document.edit(what, changed);
}

void TakesPanel::rename(int row, const QString& text)
{
    std::vector<project::Take> takes = m_document.project().takes.items();
    const std::string name = text.trimmed().toStdString();
    if (row < 0 || row >= static_cast<int>(takes.size())) return;
    project::Take& take = takes[static_cast<std::size_t>(row)];
    if (take.name == name) return;
    const bool isTaken = std::any_of(takes.begin(), takes.end(),
                                     [&](const project::Take& other) { return other.name == name; });
    if (name.empty() || isTaken) { // a name of its own, or the old one
        emit refused(isTaken ? tr("There is a take named \"%1\" already. Choose another name; nothing was "
                                  "changed.")
                                   .arg(text.trimmed())
                             : tr("A take needs a name. Nothing was changed."));
        m_shown = {};
        refresh();
        return;
    }
    take.name = name;
    project::Project changed = m_document.project();
    changed.takes = std::move(takes);
    m_document.edit(tr("name %1").arg(QString::fromStdString(name)), changed);
}

void TakesPanel::refresh()
{
    m_section.setSummary(m_document.isOpen() ? summary() : tr("nothing is open"));
    const project::Project& project = m_document.project();
    m_list->setVisible(!project.takes.empty());
    if (m_shown == project.takes && m_list->count() == static_cast<int>(project.takes.size())) {
        for (QPushButton* each : {m_compare, m_restore, m_remove})
            each->setEnabled(chosen() != nullptr);
        return;
    }
    m_shown = project.takes;
    const int row = m_list->currentRow();
    const QSignalBlocker blocker(m_list);
    m_list->clear();
    for (const project::Take& take : project.takes) {
        auto* item = new QListWidgetItem(QString::fromStdString(take.name));
        item->setFlags(item->flags() | Qt::ItemIsEditable);
        const QImage picture = pictureOf(take);
        QPixmap icon(kPicture * m_list->devicePixelRatioF());
        icon.fill(style::well);
        if (!picture.isNull())
            icon = QPixmap::fromImage(
                picture.scaled(icon.size(), Qt::KeepAspectRatio, Qt::SmoothTransformation));
        item->setIcon(icon);
        item->setData(Qt::UserRole, inWords(project, take));
        m_list->addItem(item);
    }
    const int rows = std::clamp(static_cast<int>(project.takes.size()), 1, kRows);
    m_list->setFixedHeight(rows * (kPicture.height() + 8) + 4);
    m_list->setCurrentRow(std::min(row, m_list->count() - 1));
    for (QPushButton* each : {m_compare, m_restore, m_remove})
        each->setEnabled(chosen() != nullptr);
}

} // namespace retinex::app
