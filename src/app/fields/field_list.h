#pragma once

#include "app/fields/field_place.h"
#include "app/fields/number_field.h"
#include "app/layout/section.h"

#include <QCheckBox>
#include <QComboBox>
#include <QPushButton>

namespace retinex::app {

/// Rows that are bound to described settings, one for every kind: they show the value of the present frame,
/// and edit it with a name for undo. Settings that may have marks say by a dot whether they have. Each widget
/// is named by the place's prefix and its key.
class FieldList : public QObject
{
    Q_OBJECT

public:
    /// Settings of the present shot.
    FieldList(Document& document, QObject* parent);
    FieldList(Document& document, std::unique_ptr<FieldPlace> place, QObject* parent);

    /// A row as it is described: label, tip and choices.
    QWidget* add(Section& section, const SettingPath& path);
    NumberField* number(Section& section, const QString& label, const SettingPath& path, const QString& help);
    /// The same, for another place than a section.
    NumberField* makeNumber(const QString& label, const SettingPath& path, const QString& help);
    /// Three numbers, "Tint, red" and so on; their keys go on with "/red" ...
    void colour(Section& section, const SettingPath& path);
    QCheckBox* toggle(Section& section, const QString& text, const SettingPath& path, const QString& help);
    /// `choices` in the order of the described ones.
    QComboBox* word(Section& section, const QString& label, const SettingPath& path,
                    const QStringList& choices, const QString& help);
    /// A text that is one of those listed at the time; "" is shown as `none`, where that is not empty.
    using Names = std::function<std::vector<std::string>()>;
    QComboBox* name(Section& section, const QString& label, const SettingPath& path, const Names& names,
                    const QString& none, const QString& help);
    QLineEdit* text(Section& section, const QString& label, const SettingPath& path, const QString& hint,
                    const QString& help);
    /// A button with the file's name; see fileAsked().
    QPushButton* file(Section& section, const QString& label, const SettingPath& path, const QString& help);

    /// Which rows are shown, of those that are there; all to begin with.
    void showWhere(std::function<bool(const std::string& key)> isShown) { m_isShown = std::move(isShown); }
    /// How numbers are written, where the description does not say it all.
    void formatBy(std::function<NumberFormat(const std::string& key, NumberFormat)> format)
    {
        m_format = std::move(format);
    }
    void refresh();

signals:
    /// Text typed into a field that is not a number.
    void notANumber(const QString& message);
    /// A number was edited by the artist.
    void edited(const QString& key, double value);
    void fileAsked(const QString& key);

private:
    struct Row
    {
        std::string key;
        QWidget* widget;
        Section* section;
        std::function<void()> show; ///< the present value
    };
    struct Marked
    {
        NumberField* field;
        std::function<SettingPath()> path;
        QString help;
    };
    [[nodiscard]] QString nameOf(const std::string& key) const;
    template <class Widget>
    Widget* named(Widget* widget, const std::string& key) const;
    void bind(QWidget* widget, Section* section, const std::string& key, std::function<void()> show);
    void bindMarks(NumberField* field, const std::function<SettingPath()>& path, const QString& label);
    [[nodiscard]] NumberFormat formatOf(const std::string& key) const;
    void showMarks(const Marked& marked) const;

    Document& m_document;
    std::unique_ptr<FieldPlace> m_place;
    bool m_isOfMember; ///< rows are hidden and shown here
    std::function<bool(const std::string&)> m_isShown;
    std::function<NumberFormat(const std::string&, NumberFormat)> m_format;
    std::vector<Row> m_rows;
    std::vector<Marked> m_marked;
};

/// A sentence of the core, as it is shown.
[[nodiscard]] QString shownWords(std::string_view text);

} // namespace retinex::app
