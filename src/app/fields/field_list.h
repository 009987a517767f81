#pragma once

#include "app/document/document.h"
#include "app/fields/number_field.h"
#include "app/fields/section.h"

namespace retinex::app {

/// What the menu of a field does to the marks of a setting. `path` may be another one each time; `label` as
/// in a sentence.
void connectMarks(Document& document, NumberField& field, std::function<SettingPath()> path,
                  const QString& label);
/// A row for a number of the member of a list that is chosen: `path` gives its setting, `usual` is one of the
/// same kind. `refused` hears what was typed and is no number.
NumberField* addMemberField(Document& document, Section& section, const QString& label, const QString& name,
                            const SettingPath& usual, const std::function<SettingPath()>& path,
                            const QString& help, const std::function<void(const QString&)>& refused);
/// Which dot the field of a setting has now.
[[nodiscard]] NumberField::Marks marksOf(const Document& document, const SettingPath& path);

/// Number fields that are bound to settings of the present shot: they show the value of the present frame,
/// and edit it with a name for undo. Settings that may have marks say by a dot whether they have.
class FieldList : public QObject
{
    Q_OBJECT

public:
    FieldList(Document& document, QObject* parent);

    /// A described number; the field is named by its path.
    NumberField* add(Section& section, const QString& label, const SettingPath& path, const QString& help);
    /// The same, for another place than a section.
    NumberField* make(const QString& label, const SettingPath& path, const QString& help);
    /// Gives a field that is filled elsewhere the dot and the menu of a setting with marks. `label` as in a
    /// sentence.
    void followMarks(NumberField* field, const SettingPath& path, const QString& label);

signals:
    /// Text typed into a field that is not a number.
    void notANumber(const QString& message);
    /// A field was edited by the artist.
    void edited(const QString& name);

private:
    struct Bound
    {
        NumberField* field;
        project::FieldPtr<project::Settings> setting;
    };
    struct Marked
    {
        NumberField* field;
        SettingPath path;
        QString help;
    };
    void refresh();
    void showMarks(const Marked& marked) const;

    Document& m_document;
    std::vector<Bound> m_bound;
    std::vector<Marked> m_marked;
};

} // namespace retinex::app
