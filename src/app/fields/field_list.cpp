#include "app/fields/field_list.h"

#include "app/fields/setting_formats.h"

namespace retinex::app {

FieldList::FieldList(Document& document, QObject* parent) : QObject(parent), m_document(document)
{
    connect(&document, &Document::projectChanged, this, &FieldList::refresh);
    connect(&document, &Document::frameChanged, this, &FieldList::refresh);
    connect(&document, &Document::opened, this, &FieldList::refresh);
    connect(&document, &Document::betweenMarksChanged, this, &FieldList::refresh);
}

NumberField* FieldList::make(Section& section, const QString& label, const QString& name, NumberFormat format,
                             const QString& help)
{
    auto* field = new NumberField(std::move(format));
    field->setObjectName(name);
    section.addRow(label, field, help);
    connect(field, &NumberField::rejected, this, [this, label](const QString& text) {
        emit notANumber(
            tr("\"%1\" is not a value for %2. The earlier value stays.").arg(text, label.toLower()));
    });
    return field;
}

NumberField* FieldList::add(Section& section, const Setting& setting)
{
    const QString name = QLatin1String(setting.name);
    NumberField* field = make(section, setting.label, name, setting.format, setting.help);
    connect(field, &NumberField::edited, this,
            [this, set = setting.set, label = setting.label.toLower(), name](double value, int gesture) {
                m_document.editSettings(
                    tr("set %1").arg(label), [&](project::Settings& settings) { set(settings, value); },
                    gesture);
                emit edited(name);
            });
    field->setValue(setting.get(m_document.values()));
    m_bound.push_back({field, setting.get});
    return field;
}

NumberField* FieldList::add(Section& section, const QString& label, SettingId id, const QString& help)
{
    const auto& info = project::infoOf(id);
    const QString name = QString::fromUtf8(info.key.data(), static_cast<qsizetype>(info.key.size()));
    NumberField* field = make(section, label, name, settingFormat(id, m_document.project()), help);
    connect(field, &NumberField::edited, this, [this, id, name](double value, int gesture) {
        m_document.changeSetting(id, value, gesture);
        emit edited(name);
    });
    field->setValue(info.get(m_document.values()));
    m_bound.push_back({field, info.get, isLength(id)});
    followMarks(field, id, label.toLower());
    return field;
}

void FieldList::followMarks(NumberField* field, SettingId id, const QString& label)
{
    connect(field, &NumberField::markAsked, this, [this, id] { m_document.setMarkHere(id); });
    connect(field, &NumberField::clearMarkAsked, this,
            [this, id] { m_document.removeMark(id, m_document.frame()); });
    connect(field, &NumberField::clearAllMarksAsked, this, [this, id, label] {
        m_document.editShot(tr("clear all marks of %1").arg(label), [&](project::Shot& shot) {
            const double here = project::infoOf(id).get(m_document.values());
            shot.tracks.erase(id);
            project::infoOf(id).set(shot.settings, here);
        });
    });
    m_marked.push_back({field, id, field->toolTip()});
    showMarks(m_marked.back());
}

NumberField* FieldList::addLength(Section& section, const Setting& setting)
{
    Setting complete = setting;
    complete.format = lengthFormat(m_document.project());
    NumberField* field = add(section, complete);
    m_bound.back().isLength = true;
    return field;
}

void FieldList::showMarks(const Marked& marked) const
{
    const auto& marks = m_document.marks(marked.id);
    if (marks.empty()) {
        marked.field->setMarks(m_document.isSequence() ? NumberField::Marks::none
                                                       : NumberField::Marks::never);
        marked.field->setToolTip(marked.help);
        return;
    }
    const bool here = timeline::markOn(marks, m_document.frame()) != nullptr;
    marked.field->setMarks(here ? NumberField::Marks::here : NumberField::Marks::elsewhere);
    const QString what = here ? tr("A change here moves the mark on frame %1.")
                         : m_document.betweenMarks() == BetweenMarks::shiftAll
                             ? tr("Between marks: a change here shifts all marks of this shot.")
                             : tr("Between marks: a change here adds a mark on frame %1.");
    marked.field->setToolTip(marked.help + QLatin1Char('\n') +
                             (what.contains(QLatin1String("%1")) ? what.arg(m_document.frame()) : what));
}

void FieldList::refresh()
{
    for (const Bound& bound : m_bound) {
        if (bound.isLength) bound.field->setFormat(lengthFormat(m_document.project()));
        bound.field->setValue(bound.get(m_document.values()));
    }
    for (const Marked& marked : m_marked)
        showMarks(marked);
}

} // namespace retinex::app
