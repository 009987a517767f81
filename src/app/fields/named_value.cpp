#include "app/fields/named_value.h"

#include "app/fields/chooser.h"
#include "app/fields/value_label.h"

#include <mutex>

namespace retinex::app {

NamedValue::NamedValue(QWidget* widget, QAccessible::Role role, QString (*value)(const QWidget&),
                       void (*press)(QWidget&))
    : QAccessibleWidget(widget, role), m_value(value), m_press(press)
{
}

QString NamedValue::text(QAccessible::Text kind) const
{
    if (kind == QAccessible::Value) return m_value(*widget());
    if (kind != QAccessible::Name) return QAccessibleWidget::text(kind);
    const QString name = widget()->accessibleName();
    return name.isEmpty() ? m_value(*widget()) : name + QStringLiteral(": ") + m_value(*widget());
}

QStringList NamedValue::actionNames() const
{
    QStringList names = QAccessibleWidget::actionNames();
    if (m_press) names.prepend(pressAction());
    return names;
}

void NamedValue::doAction(const QString& name)
{
    if (m_press && name == pressAction())
        m_press(*widget());
    else
        QAccessibleWidget::doAction(name);
}

void nameValues()
{
    static std::once_flag once;
    std::call_once(once, [] {
        QAccessible::installFactory([](const QString&, QObject* object) -> QAccessibleInterface* {
            if (auto* label = qobject_cast<ValueLabel*>(object))
                return new NamedValue(label, QAccessible::StaticText, [](const QWidget& widget) {
                    return static_cast<const QLabel&>(widget).text();
                });
            if (auto* chooser = qobject_cast<Chooser*>(object); chooser && !chooser->isEditable())
                return new NamedValue(
                    chooser, QAccessible::ComboBox,
                    [](const QWidget& widget) {
                        return static_cast<const QComboBox&>(widget).currentText().trimmed();
                    },
                    [](QWidget& widget) { static_cast<QComboBox&>(widget).showPopup(); });
            return nullptr;
        });
    });
}

} // namespace retinex::app
