#include "app/fields/field_list.h"

#include "app/fields/chooser.h"
#include "app/fields/name_button.h"
#include "app/fields/setting_formats.h"

#include <QFileInfo>
#include <cmath>

namespace retinex::app {

namespace {

using project::Kind;

NumberField::Marks marksOf(const Document& document, const SettingPath& path)
{
    const auto& marks = document.marks(path);
    if (marks.empty()) return document.isSequence() ? NumberField::Marks::none : NumberField::Marks::never;
    return timeline::markOn(marks, document.frame()) ? NumberField::Marks::here
                                                     : NumberField::Marks::elsewhere;
}

} // namespace

QString shownWords(std::string_view text)
{
    return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size()));
}

FieldList::FieldList(Document& document, QObject* parent)
    : FieldList(document, std::make_unique<ShotPlace>(document), parent)
{
}

FieldList::FieldList(Document& document, std::unique_ptr<FieldPlace> place, QObject* parent)
    : QObject(parent), m_document(document), m_place(std::move(place)),
      m_isOfMember(!m_place->prefix().empty())
{
    connect(&document, &Document::projectChanged, this, &FieldList::refresh);
    connect(&document, &Document::frameChanged, this, &FieldList::refresh);
    connect(&document, &Document::opened, this, &FieldList::refresh);
    connect(&document, &Document::betweenMarksChanged, this, &FieldList::refresh);
}

QWidget* FieldList::add(Section& section, const SettingPath& path)
{
    const std::string& key = path.text();
    const project::SettingInfo info = m_place->info(key);
    const QString label = shownWords(info.label);
    const QString tip = shownWords(info.tip);
    switch (info.kind) {
    case Kind::onOff:
        return toggle(section, label, key, tip);
    case Kind::word: {
        QStringList choices;
        for (const std::string_view choice : info.saidChoices.empty() ? info.choices : info.saidChoices)
            choices << shownWords(choice);
        return word(section, label, key, choices, tip);
    }
    case Kind::file:
        return file(section, label, key, tip);
    case Kind::text:
        return info.names
                   ? static_cast<QWidget*>(name(section, label, key, info.names, tr("by the file"), tip))
                   : text(section, label, key, {}, tip);
    default:
        return number(section, label, key, tip);
    }
}

QString FieldList::nameOf(const std::string& key) const
{
    return QString::fromStdString(m_place->prefix() + key);
}

template <class Widget>
Widget* FieldList::named(Widget* widget, const std::string& key) const
{
    widget->setObjectName(nameOf(key));
    return widget;
}

void FieldList::bind(QWidget* widget, Section* section, const std::string& key, std::function<void()> show)
{
    m_rows.push_back({key, widget, section, std::move(show)});
    if (m_isOfMember)
        section->setRowVisible(widget, false);
    else
        m_rows.back().show();
}

NumberFormat FieldList::formatOf(const std::string& key) const
{
    NumberFormat format = settingFormat(m_place->info(key), m_place->defaultOf(key), m_document.project());
    return m_format ? m_format(key, format) : format;
}

NumberField* FieldList::number(Section& section, const QString& label, const SettingPath& path,
                               const QString& help)
{
    const std::string& key = path.text();
    NumberField* field = makeNumber(label, key, help);
    const QString tip = field->toolTip(); // it may speak of marks
    section.addRow(label, field, help);
    field->setToolTip(tip);
    m_rows.back().section = &section;
    if (m_isOfMember) section.setRowVisible(field, false);
    return field;
}

NumberField* FieldList::makeNumber(const QString& label, const SettingPath& path, const QString& help)
{
    const std::string& key = path.text();
    auto* field = named(new NumberField(formatOf(key)), key);
    field->setToolTip(help);
    field->setAccessibleName(label);
    connect(field, &NumberField::rejected, this,
            [this, field, label](const QString& text) { emit notANumber(field->refusal(label, text)); });
    const project::SettingInfo info = m_place->info(key);
    connect(field, &NumberField::edited, this,
            [this, key, title = shownWords(info.title)](double value, int gesture) {
                m_place->setNumber(tr("set %1").arg(title), key, value, gesture);
                emit edited(QString::fromStdString(key), value);
            });
    const bool moves = info.kind == Kind::distance || info.kind == Kind::length; // with the project's unit
    m_rows.push_back({key, field, nullptr, [this, field, key, moves] {
                          if (moves || m_format) field->setFormat(formatOf(key));
                          field->setValue(m_place->number(key));
                      }});
    if (!m_isOfMember) m_rows.back().show();
    if (info.mayHaveMarks())
        bindMarks(
            field, [this, key] { return m_place->path(key); }, label.toLower());
    return field;
}

void FieldList::colour(Section& section, const SettingPath& path)
{
    const std::string& key = path.text();
    for (const char* one : {"/red", "/green", "/blue"})
        add(section, key + one);
}

QCheckBox* FieldList::toggle(Section& section, const QString& text, const SettingPath& path,
                             const QString& help)
{
    const std::string& key = path.text();
    auto* box = named(new QCheckBox(text), key);
    box->setToolTip(help);
    section.addWide(box);
    connect(box, &QCheckBox::clicked, this,
            [this, key, title = shownWords(m_place->info(key).title)](bool on) {
                m_place->setNumber(on ? tr("switch on %1").arg(title) : tr("switch off %1").arg(title), key,
                                   on ? 1.0 : 0.0, 0);
            });
    bind(box, &section, key, [this, box, key] {
        box->setChecked(m_place->number(key) != 0.0);
        box->setEnabled(m_document.isOpen());
    });
    return box;
}

QComboBox* FieldList::word(Section& section, const QString& label, const SettingPath& path,
                           const QStringList& choices, const QString& help)
{
    const std::string& key = path.text();
    auto* box = sheetChooser(nameOf(key));
    box->addItems(choices);
    section.addRow(label, box, help);
    connect(box, &QComboBox::activated, this,
            [this, key, title = shownWords(m_place->info(key).title)](int index) {
                m_place->setNumber(tr("choose %1").arg(title), key, index, 0);
            });
    bind(box, &section, key, [this, box, key] {
        box->setCurrentIndex(static_cast<int>(m_place->number(key)));
        box->setEnabled(m_document.isOpen());
    });
    return box;
}

QComboBox* FieldList::name(Section& section, const QString& label, const SettingPath& path,
                           const Names& names, const QString& none, const QString& help)
{
    const std::string& key = path.text();
    auto* box = sheetChooser(nameOf(key));
    section.addRow(label, box, help);
    connect(box, &QComboBox::activated, this,
            [this, box, key, title = shownWords(m_place->info(key).title)](int index) {
                m_place->setText(tr("choose %1").arg(title), key,
                                 box->itemData(index).toString().toStdString());
            });
    bind(box, &section, key, [this, box, key, names, none] {
        QStringList shown;
        for (const std::string& each : names())
            shown << QString::fromStdString(each);
        const int first = none.isEmpty() ? 0 : 1;
        QStringList there;
        for (int i = first; i < box->count(); ++i)
            there << box->itemText(i);
        if (there != shown || box->count() == 0) {
            box->clear();
            if (first == 1) box->addItem(none, QString());
            for (const QString& each : shown)
                box->addItem(each, each);
        }
        const int at = box->findData(QString::fromStdString(m_place->text(key)));
        box->setCurrentIndex(at < 0 && first == 1 ? 0 : at);
        box->setEnabled(m_document.isOpen());
    });
    return box;
}

QLineEdit* FieldList::text(Section& section, const QString& label, const SettingPath& path,
                           const QString& hint, const QString& help)
{
    const std::string& key = path.text();
    auto* edit = named(new QLineEdit, key);
    edit->setPlaceholderText(hint);
    section.addRow(label, edit, help);
    connect(edit, &QLineEdit::editingFinished, this,
            [this, edit, key, title = shownWords(m_place->info(key).title)] {
                const std::string typed = edit->text().trimmed().toStdString();
                if (m_place->isThere() && m_place->text(key) != typed)
                    m_place->setText(tr("set %1").arg(title), key, typed);
            });
    bind(edit, &section, key, [this, edit, key] {
        if (!edit->hasFocus()) edit->setText(QString::fromStdString(m_place->text(key)));
    });
    return edit;
}

QPushButton* FieldList::file(Section& section, const QString& label, const SettingPath& path,
                             const QString& help)
{
    const std::string& key = path.text();
    auto* button = named(new NameButton, key);
    section.addRow(label, button, help);
    connect(button, &QPushButton::clicked, this,
            [this, key] { emit fileAsked(QString::fromStdString(key)); });
    bind(button, &section, key, [this, button, key, help] {
        const QString file = QString::fromStdString(m_place->text(key));
        button->setText(file.isEmpty() ? tr("Choose…") : QFileInfo(file).fileName());
        button->setToolTip(file.isEmpty() ? help : file);
        button->setEnabled(m_document.isOpen());
    });
    return button;
}

void FieldList::bindMarks(NumberField* field, const std::function<SettingPath()>& path, const QString& label)
{
    connect(field, &NumberField::markAsked, field, [this, path] { m_document.setMarkHere(path()); });
    connect(field, &NumberField::clearMarkAsked, field,
            [this, path] { m_document.removeMark(path(), m_document.frame()); });
    connect(field, &NumberField::clearAllMarksAsked, field, [this, path, label] {
        m_document.editShot(tr("clear all marks of %1").arg(label), [&](project::Shot& shot) {
            const double here = project::infoOf(path())->get(m_document.values());
            shot.tracks.erase(path());
            project::infoOf(path())->set(shot.settings, here);
        });
    });
    m_marked.push_back({field, path, field->toolTip()});
    if (!m_isOfMember) showMarks(m_marked.back());
}

void FieldList::showMarks(const Marked& marked) const
{
    const NumberField::Marks shown = marksOf(m_document, marked.path());
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
    const bool isThere = m_place->isThere();
    for (const Row& row : m_rows) {
        const bool isShown = isThere && (!m_isShown || m_isShown(row.key));
        if ((m_isOfMember || m_isShown) && row.section) row.section->setRowVisible(row.widget, isShown);
        if (isShown) row.show();
    }
    if (isThere)
        for (const Marked& marked : m_marked)
            showMarks(marked);
}

} // namespace retinex::app
