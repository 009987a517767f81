#pragma once

#include "app/document/document.h"
#include "app/fields/number_field.h"
#include "app/sheet/section.h"

namespace retinex::app {

/// Number fields that are bound to settings of the present shot: they show the value of the present frame,
/// and edit it with a name for undo. Settings that may have marks say by a dot whether they have.
class FieldList : public QObject
{
    Q_OBJECT

public:
    FieldList(Document& document, QObject* parent);

    struct Setting
    {
        QString label;
        const char* name = ""; ///< of the object, for tests and style
        NumberFormat format;
        QString help;
        std::function<double(const project::Settings&)> get;
        std::function<void(project::Settings&, double)> set;
    };
    NumberField* add(Section& section, const Setting& setting);
    /// A setting that may have marks; the field is named by its key.
    NumberField* add(Section& section, const QString& label, SettingId id, const QString& help);
    /// A distance, in the project's unit; in scene units inside. 0 is allowed.
    NumberField* addLength(Section& section, const Setting& setting);
    /// Gives a field that is filled elsewhere the dot and the menu of a setting with marks. `label` as in a
    /// sentence.
    void followMarks(NumberField* field, SettingId id, const QString& label);

signals:
    /// Text typed into a field that is not a number.
    void notANumber(const QString& message);
    /// A field was edited by the artist.
    void edited(const QString& name);

private:
    struct Bound
    {
        NumberField* field;
        std::function<double(const project::Settings&)> get;
        bool isLength = false;
    };
    struct Marked
    {
        NumberField* field;
        SettingId id;
        QString help;
    };
    NumberField* make(Section& section, const QString& label, const QString& name, NumberFormat format,
                      const QString& help);
    void refresh();
    void showMarks(const Marked& marked) const;

    Document& m_document;
    std::vector<Bound> m_bound;
    std::vector<Marked> m_marked;
};

} // namespace retinex::app
