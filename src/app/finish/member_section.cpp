#include "app/finish/member_section.h"

#include "app/finish/step_widgets.h"

#include <QHBoxLayout>
#include <algorithm>

namespace retinex::app {

namespace {

using project::Settings;

const project::Description<Settings>::List& listNamed(const std::string& name)
{
    const auto lists = project::shotSettings().lists();
    return *std::ranges::find(lists, name, &project::Description<Settings>::List::name);
}

} // namespace

MemberSection::MemberSection(Document& document, Section& section, KindOf kind, QObject* parent)
    : QObject(parent), m_document(document), m_section(section), m_kind(std::move(kind)),
      m_list(new MemberList(m_kind.title)), m_add(new QToolButton), m_delete(new QPushButton(tr("Delete"))),
      m_fields(new FieldList(
          document, std::make_unique<ShotPlace>(document, m_kind.list, [this] { return m_chosen; }), this))
{
    const QString name = QString::fromStdString(m_kind.list);
    m_list->setObjectName(name);
    m_list->setToolTip(tr("Drag to reorder (Alt+Up, Alt+Down), double click to name."));
    section.addWide(m_list);
    auto* buttons = new QWidget;
    auto* row = new QHBoxLayout(buttons);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    m_add->setText(m_kind.addText);
    m_add->setObjectName(QStringLiteral("add/") + name);
    m_delete->setObjectName(QStringLiteral("delete/") + name);
    m_delete->setToolTip(tr("Deletes it with its marks."));
    row->addWidget(m_add);
    row->addStretch(1);
    row->addWidget(m_delete);
    section.addWide(buttons);
    connect(m_delete, &QPushButton::clicked, this, &MemberSection::remove);
    connect(m_list, &MemberList::chosenByHand, this, &MemberSection::choose);
    connect(m_list, &MemberList::refused, this, &MemberSection::refresh);
    connect(m_list, &MemberList::switched, this, [this](const std::string& id, bool on) {
        change(on ? tr("switch on %1").arg(m_kind.one) : tr("switch off %1").arg(m_kind.one), id, "on",
               [on](const auto& field, Settings& settings) { field.set(settings, on ? 1.0 : 0.0); });
    });
    connect(m_list, &MemberList::named, this, [this](const std::string& id, const std::string& text) {
        change(tr("name %1").arg(m_kind.one), id, "name", [&](const auto& field, Settings& settings) {
            std::get<project::Field<Settings>::Access<std::string>>(field.access).set(settings, text);
        });
    });
    connect(m_list, &MemberList::reordered, this, [this](const std::vector<std::string>& ids) {
        m_document.editShot(tr("reorder %1").arg(m_kind.title.toLower()),
                            [&](project::Shot& shot) { m_kind.arrange(shot.settings, ids); });
    });
    connect(m_fields, &FieldList::notANumber, this, &MemberSection::refused);
    followDocument(document, this, [this] { refresh(); });
}

std::vector<std::string> MemberSection::ids() const
{
    return listNamed(m_kind.list).ids(m_document.values());
}

void MemberSection::choose(const std::string& id)
{
    if (id == m_chosen) return;
    m_chosen = id;
    refresh();
    emit chosenChanged();
}

void MemberSection::add(const QString& name, const std::vector<std::pair<std::string, std::string>>& texts,
                        const std::vector<std::pair<std::string, double>>& numbers)
{
    const auto& list = listNamed(m_kind.list);
    int last = 0;
    for (const project::Shot& shot : m_document.project().shots)
        for (const std::string& id : list.ids(shot.settings))
            last = std::max(last, QString::fromStdString(id).toInt());
    const std::string id = std::to_string(last + 1);
    m_document.editShot(tr("add %1").arg(m_kind.one), [&](project::Shot& shot) {
        list.add(shot.settings, id);
        const auto set = [&](const std::string& key, const auto& value) {
            const auto field = list.field(id, key);
            using Value = std::decay_t<decltype(value)>;
            std::get<project::Field<Settings>::Access<Value>>(field->access).set(shot.settings, value);
        };
        set("name", name.toStdString());
        for (const auto& [key, value] : texts)
            set(key, value);
        for (const auto& [key, value] : numbers)
            set(key, value);
    });
    choose(id);
}

void MemberSection::change(const QString& what, const std::string& id, std::string_view key,
                           const std::function<void(const project::Field<Settings>&, Settings&)>& set)
{
    const auto field = listNamed(m_kind.list).field(id, key);
    m_document.editShot(what, [&](project::Shot& shot) { set(*field, shot.settings); });
}

std::string MemberSection::text(std::string_view key) const
{
    const auto field = listNamed(m_kind.list).field(m_chosen, key);
    return std::get<project::Field<Settings>::Access<std::string>>(field->access).get(m_document.values());
}

void MemberSection::setText(const QString& what, std::string_view key, const std::string& text)
{
    change(what, m_chosen, key, [&](const auto& field, Settings& settings) {
        std::get<project::Field<Settings>::Access<std::string>>(field.access).set(settings, text);
    });
}

void MemberSection::remove()
{
    std::vector<std::string> kept = ids();
    std::erase(kept, m_chosen);
    const std::string prefix = m_kind.list + '/' + m_chosen + '/';
    m_document.editShot(tr("delete %1").arg(m_kind.one), [&](project::Shot& shot) {
        m_kind.arrange(shot.settings, kept);
        std::erase_if(shot.tracks, [&](const auto& track) { return track.first.text().starts_with(prefix); });
    });
}

void MemberSection::addRow(const QString& label, QWidget* row, const QString& help)
{
    m_section.addRow(label, row, help);
    m_rows.push_back(row);
    m_section.setRowVisible(row, false);
}

void MemberSection::refresh()
{
    const std::vector<std::string> there = ids();
    const bool wasThere = std::ranges::find(there, m_chosen) != there.end();
    if (!wasThere) {
        m_chosen = there.empty() ? std::string() : there.front();
        emit chosenChanged();
    }
    const auto& list = listNamed(m_kind.list);
    std::vector<MemberList::Row> rows;
    for (const std::string& id : there) {
        const auto name = list.field(id, "name");
        rows.push_back(
            {id,
             std::get<project::Field<Settings>::Access<std::string>>(name->access).get(m_document.values()),
             m_kind.words(m_document.values(), id), list.field(id, "on")->get(m_document.values()) != 0.0});
    }
    m_list->setRows(rows, m_chosen);
    m_list->setVisible(!rows.empty());
    m_add->setEnabled(m_document.isOpen());
    const bool isChosen = !m_chosen.empty();
    m_delete->setVisible(isChosen);
    m_fields->refresh();
    for (QWidget* row : m_rows)
        m_section.setRowVisible(row, isChosen);
}

} // namespace retinex::app
