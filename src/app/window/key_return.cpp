#include "app/window/key_return.h"

#include "app/fields/number_field.h"

#include <QAbstractButton>
#include <QAbstractSpinBox>
#include <QApplication>
#include <QComboBox>
#include <QKeyEvent>
#include <QLineEdit>
#include <QSpinBox>

namespace retinex::app {

namespace {

/// The field that a widget is, or is the line of.
QWidget* fieldOf(QWidget* widget)
{
    if (!widget) return nullptr;
    if (auto* spin = qobject_cast<QAbstractSpinBox*>(widget->parentWidget())) return spin;
    if (auto* box = qobject_cast<QComboBox*>(widget->parentWidget())) return box;
    return widget;
}

bool isTypedIn(const QWidget* field)
{
    if (const auto* number = qobject_cast<const NumberField*>(field)) return number->isTyping();
    if (const auto* line = qobject_cast<const QLineEdit*>(field)) return !line->isReadOnly();
    return qobject_cast<const QAbstractSpinBox*>(field) != nullptr;
}

/// A field shows its value again, whatever was typed.
void takeBack(QWidget* field)
{
    if (auto* number = qobject_cast<NumberField*>(field)) number->stopTyping();
    if (auto* spin = qobject_cast<QSpinBox*>(field)) {
        const QSignalBlocker quiet(spin);
        const int value = spin->value();
        spin->setValue(value == spin->maximum() ? spin->minimum() : spin->maximum());
        spin->setValue(value);
    }
}

} // namespace

KeyReturn::KeyReturn(QWidget& window, QWidget& home) : QObject(&window), m_window(window), m_home(home)
{
    qApp->installEventFilter(this);
    connect(qApp, &QApplication::focusChanged, this, [this](QWidget* before, QWidget* now) {
        // A button that switched itself off would hand the keys to its neighbour.
        if (before && now && now != &m_home && isOurs(before) && isOurs(now) && !before->isEnabled())
            m_home.setFocus();
    });
}

bool KeyReturn::isOurs(const QObject* object) const
{
    const auto* widget = qobject_cast<const QWidget*>(object);
    return widget && widget->window() == &m_window;
}

QWidget* KeyReturn::typedIn() const
{
    QWidget* field = fieldOf(m_window.focusWidget());
    return field && field->hasFocus() && isTypedIn(field) ? field : nullptr;
}

bool KeyReturn::keyPressed(QWidget& field, QEvent& event)
{
    const int key = static_cast<QKeyEvent&>(event).key();
    const bool isReturn = key == Qt::Key_Return || key == Qt::Key_Enter;
    if (!isReturn && key != Qt::Key_Escape) return false;
    if (isReturn && !isTypedIn(&field)) return false; // it begins to type, opens, or presses
    if (isReturn)
        static_cast<QObject&>(field).event(&event);
    else
        takeBack(&field);
    m_home.setFocus();
    return true;
}

bool KeyReturn::eventFilter(QObject* watched, QEvent* event)
{
    switch (event->type()) {
    case QEvent::KeyPress:
        if (isOurs(watched) && watched != &m_home) {
            QWidget* field = fieldOf(static_cast<QWidget*>(watched));
            const bool isField = qobject_cast<QLineEdit*>(field) || qobject_cast<QAbstractSpinBox*>(field) ||
                                 qobject_cast<QComboBox*>(field) || qobject_cast<QAbstractButton*>(field);
            if (isField && static_cast<QWidget*>(watched)->hasFocus()) return keyPressed(*field, *event);
        }
        break;
    case QEvent::FocusOut:
        // A press moves the keys before it is heard of.
        if (isOurs(watched) && static_cast<QFocusEvent*>(event)->reason() == Qt::MouseFocusReason)
            m_leftTyping = isTypedIn(fieldOf(static_cast<QWidget*>(watched)));
        break;
    case QEvent::MouseButtonPress:
        if (isOurs(watched)) {
            if (std::exchange(m_leftTyping, false) && watched == &m_home) {
                m_swallowsRelease = true;
                return true;
            }
            QWidget* typed = typedIn();
            auto* pressed = static_cast<QWidget*>(watched);
            if (!typed || pressed == typed || typed->isAncestorOf(pressed)) break;
            m_home.setFocus();
        }
        break;
    case QEvent::MouseButtonRelease:
        if (m_swallowsRelease && watched == &m_home) {
            m_swallowsRelease = false;
            return true;
        }
        break;
    case QEvent::Hide:
        // The list of a chooser: a choice was made, or was left.
        if (watched->inherits("QComboBoxPrivateContainer") && isOurs(watched->parent())) m_home.setFocus();
        break;
    default:
        break;
    }
    return QObject::eventFilter(watched, event);
}

} // namespace retinex::app
