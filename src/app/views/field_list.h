#pragma once

#include "app/document/document.h"
#include "app/views/number_field.h"
#include "app/views/section.h"

namespace retinex::app {

/// Number fields that are bound to settings of the project: they show it, and edit it with a name for undo.
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
        std::function<double(const project::Project&)> get;
        std::function<void(project::Project&, double)> set;
    };
    NumberField* add(Section& section, const Setting& setting);
    /// A distance, in the project's unit; `get` and `set` in scene units. 0 is allowed.
    NumberField* addLength(Section& section, const Setting& setting);

signals:
    /// Text typed into a field that is not a number.
    void notANumber(const QString& message);
    /// A field was edited by the artist.
    void edited(const QString& name);

private:
    void refresh();

    Document& m_document;
    struct Bound
    {
        NumberField* field;
        std::function<double(const project::Project&)> get;
        bool isLength;
    };
    std::vector<Bound> m_bound;
};

/// Plain steps: arrow keys and scrubbing add `step`.
[[nodiscard]] NumberFormat steppedFormat(const QString& suffix, double minimum, double maximum,
                                         double defaultValue, double step, int digits = 3);
/// Shares of 1 shown in per cent.
[[nodiscard]] NumberFormat percentFormat(double minimum, double maximum, double defaultValue);

} // namespace retinex::app
