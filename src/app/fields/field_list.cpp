#include "app/fields/field_list.h"

#include "app/fields/setting_formats.h"

namespace retinex::app {

void connectMarks(Document& document, NumberField& field, std::function<SettingPath()> path,
                  const QString& label)
{
    QObject::connect(&field, &NumberField::markAsked, &field,
                     [&document, path] { document.setMarkHere(path()); });
    QObject::connect(&field, &NumberField::clearMarkAsked, &field,
                     [&document, path] { document.removeMark(path(), document.frame()); });
    QObject::connect(&field, &NumberField::clearAllMarksAsked, &field, [&document, path, label] {
        document.editShot(FieldList::tr("clear all marks of %1").arg(label), [&](project::Shot& shot) {
            const double here = project::infoOf(path())->get(document.values());
            shot.tracks.erase(path());
            project::infoOf(path())->set(shot.settings, here);
        });
    });
}

NumberField* addMemberField(Document& document, Section& section, const QString& label, const QString& name,
                            const SettingPath& usual, const std::function<SettingPath()>& path,
                            const QString& help, const std::function<void(const QString&)>& refused)
{
    auto* field = new NumberField(settingFormat(usual, document.project()));
    field->setObjectName(name);
    section.addRow(label, field, help);
    QObject::connect(field, &NumberField::edited, field, [&document, path](double value, int gesture) {
        document.changeSetting(path(), value, gesture);
    });
    QObject::connect(field, &NumberField::rejected, field,
                     [field, label, refused](const QString& text) { refused(field->refusal(label, text)); });
    connectMarks(document, *field, path, label.toLower());
    return field;
}

NumberField::Marks marksOf(const Document& document, const SettingPath& path)
{
    const auto& marks = document.marks(path);
    if (marks.empty()) return document.isSequence() ? NumberField::Marks::none : NumberField::Marks::never;
    return timeline::markOn(marks, document.frame()) ? NumberField::Marks::here
                                                     : NumberField::Marks::elsewhere;
}

FieldList::FieldList(Document& document, QObject* parent) : QObject(parent), m_document(document)
{
    connect(&document, &Document::projectChanged, this, &FieldList::refresh);
    connect(&document, &Document::frameChanged, this, &FieldList::refresh);
    connect(&document, &Document::opened, this, &FieldList::refresh);
    connect(&document, &Document::betweenMarksChanged, this, &FieldList::refresh);
}

NumberField* FieldList::add(Section& section, const QString& label, const SettingPath& path,
                            const QString& help)
{
    NumberField* field = make(label, path, help);
    const QString tip = field->toolTip(); // it may speak of marks
    section.addRow(label, field, help);
    field->setToolTip(tip);
    return field;
}

NumberField* FieldList::make(const QString& label, const SettingPath& path, const QString& help)
{
    const auto setting = project::infoOf(path);
    const QString name = QString::fromStdString(path.text());
    auto* field = new NumberField(settingFormat(path, m_document.project()));
    field->setObjectName(name);
    field->setToolTip(help);
    field->setAccessibleName(label);
    connect(field, &NumberField::rejected, this,
            [this, field, label](const QString& text) { emit notANumber(field->refusal(label, text)); });
    connect(field, &NumberField::edited, this, [this, path, name](double value, int gesture) {
        m_document.changeSetting(path, value, gesture);
        emit edited(name);
    });
    field->setValue(setting->get(m_document.values()));
    m_bound.push_back({field, setting});
    if (setting->mayHaveMarks()) followMarks(field, path, label.toLower());
    return field;
}

void FieldList::followMarks(NumberField* field, const SettingPath& path, const QString& label)
{
    connectMarks(
        m_document, *field, [path] { return path; }, label);
    m_marked.push_back({field, path, field->toolTip()});
    showMarks(m_marked.back());
}

void FieldList::showMarks(const Marked& marked) const
{
    const NumberField::Marks shown = marksOf(m_document, marked.path);
    marked.field->setMarks(shown);
    if (shown == NumberField::Marks::none || shown == NumberField::Marks::never) {
        marked.field->setToolTip(marked.help);
        return;
    }
    const bool here = shown == NumberField::Marks::here;
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
        if (followsUnit(bound.setting->path))
            bound.field->setFormat(settingFormat(bound.setting->path, m_document.project()));
        bound.field->setValue(bound.setting->get(m_document.values()));
    }
    for (const Marked& marked : m_marked)
        showMarks(marked);
}

} // namespace retinex::app
