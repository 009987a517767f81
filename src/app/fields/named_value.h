#pragma once

#include <QAccessibleWidget>
#include <QString>

namespace retinex::app {

/// What has a row's name and shows a value of its own to assistive tools. The bus they read from knows no
/// value of such widgets beside their name, so the name says both: "Sharp zone: 0.726 m to 0.755 m".
class NamedValue : public QAccessibleWidget
{
public:
    /// `value` gives the value's text, `press` does what a press on it does; it may be null.
    NamedValue(QWidget* widget, QAccessible::Role role, QString (*value)(const QWidget&),
               void (*press)(QWidget&) = nullptr);
    QString text(QAccessible::Text kind) const override;
    QStringList actionNames() const override;
    void doAction(const QString& name) override;

private:
    QString (*m_value)(const QWidget&);
    void (*m_press)(QWidget&);
};

/// From now on ValueLabel and Chooser are read so.
void nameValues();

} // namespace retinex::app
