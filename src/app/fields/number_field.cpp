#include "app/fields/number_field.h"

#include "app/document/gesture.h"
#include "app/look/style.h"

#include <QApplication>
#include <QClipboard>
#include <QContextMenuEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace retinex::app {

namespace {

double factorFor(Qt::KeyboardModifiers modifiers)
{
    return modifiers & Qt::ShiftModifier ? 10.0 : modifiers & Qt::ControlModifier ? 0.1 : 1.0;
}

/// Other keys are left to the window while nothing is typed: space plays, M marks.
bool beginsNumber(const QKeyEvent& event)
{
    static const QString beginnings = QStringLiteral("0123456789.,-+");
    return event.text().size() == 1 && beginnings.contains(event.text().front()) &&
           !(event.modifiers() & (Qt::ControlModifier | Qt::AltModifier));
}

} // namespace

NumberField::NumberField(NumberFormat format, QWidget* parent)
    : QLineEdit(parent), m_format(std::move(format))
{
    setFont(style::numberFont());
    setAlignment(Qt::AlignRight);
    setFocusPolicy(Qt::StrongFocus);
    setMinimumWidth(118);
    m_value = m_format.defaultValue;
    setTyping(false);
    showValue();
    connect(this, &QLineEdit::returnPressed, this, [this] {
        commitText();
        selectAll();
    });
}

void NumberField::setFormat(NumberFormat format)
{
    m_format = std::move(format);
    if (!m_typing) showValue();
}

void NumberField::setValue(double value)
{
    m_value = value;
    if (!m_typing) showValue();
}

void NumberField::showValue()
{
    setText(m_format.toText(m_value));
    setCursorPosition(0);
}

void NumberField::setMarks(Marks marks)
{
    if (marks == m_marks) return;
    m_marks = marks;
    const bool has = marks == Marks::here || marks == Marks::elsewhere;
    setTextMargins(has ? 14 : 0, 0, 0, 0);
    update();
}

void NumberField::paintEvent(QPaintEvent* event)
{
    QLineEdit::paintEvent(event);
    if (m_marks != Marks::here && m_marks != Marks::elsewhere) return;
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(isEnabled() ? style::text : style::dimText, 1.3));
    painter.setBrush(m_marks == Marks::here ? QBrush(painter.pen().color()) : QBrush(Qt::NoBrush));
    painter.drawEllipse(QPointF(11.0, height() / 2.0), 3.4, 3.4);
}

void NumberField::setTyping(bool typing)
{
    m_typing = typing;
    setReadOnly(!typing);
    setCursor(typing ? Qt::IBeamCursor : Qt::SizeHorCursor);
    if (typing)
        selectAll();
    else
        deselect();
}

void NumberField::change(double value, int gesture)
{
    value = std::clamp(value, m_format.minimum, m_format.maximum);
    if (m_format.settle) value = m_format.settle(value, m_value);
    if (value == m_value) return;
    m_value = value;
    if (!m_typing) showValue();
    emit edited(value, gesture);
}

void NumberField::stepBy(double steps, Qt::KeyboardModifiers modifiers, int gesture)
{
    const double amount = steps * m_format.step * factorFor(modifiers);
    change(m_format.geometric ? m_value * std::exp(amount) : m_value + amount, gesture);
    if (m_typing) {
        showValue();
        selectAll();
    }
}

void NumberField::commitText()
{
    if (!m_typing) return;
    const QString typed = text();
    if (typed != m_format.toText(m_value)) take(typed); // shown rounded: what was not touched is not changed
    showValue();
}

void NumberField::take(const QString& typed)
{
    const auto value = m_format.fromText(typed);
    // A text rounds: what it shows as an end is the end.
    const double slack = 1e-9;
    if (!value || !(*value >= m_format.minimum - slack * std::abs(m_format.minimum)) ||
        !(*value <= m_format.maximum + slack * std::abs(m_format.maximum)))
        emit rejected(typed);
    else
        change(*value, newGesture());
}

void NumberField::stopTyping()
{
    setTyping(false);
    showValue();
}

QString NumberField::fits() const
{
    constexpr double kAnything = 1e6;
    if (m_format.maximum >= kAnything) return tr("from %1").arg(m_format.toText(m_format.minimum));
    return tr("%1 to %2").arg(m_format.toText(m_format.minimum), m_format.toText(m_format.maximum));
}

QString NumberField::refusal(const QString& name, const QString& text) const
{
    return tr("%1 cannot be \"%2\": it takes %3. Nothing was changed.").arg(name, text.trimmed(), fits());
}

void NumberField::mousePressEvent(QMouseEvent* event)
{
    if (m_typing || event->button() != Qt::LeftButton) {
        QLineEdit::mousePressEvent(event);
        return;
    }
    m_pressed = true;
    m_scrubbing = false;
    m_pressPos = event->pos();
    m_pressValue = m_value;
    m_gesture = newGesture();
    setFocus(Qt::MouseFocusReason);
}

void NumberField::mouseMoveEvent(QMouseEvent* event)
{
    if (!m_pressed) {
        QLineEdit::mouseMoveEvent(event);
        return;
    }
    const int moved = event->pos().x() - m_pressPos.x();
    if (!m_scrubbing && std::abs(moved) < QApplication::startDragDistance() / 2) return;
    m_scrubbing = true;
    const double amount = moved * m_format.step * 0.5 * factorFor(event->modifiers());
    change(m_format.geometric ? m_pressValue * std::exp(amount) : m_pressValue + amount, m_gesture);
}

void NumberField::mouseReleaseEvent(QMouseEvent* event)
{
    if (!m_pressed) {
        QLineEdit::mouseReleaseEvent(event);
        return;
    }
    m_pressed = false;
    if (!m_scrubbing) setTyping(true);
}

void NumberField::mouseDoubleClickEvent(QMouseEvent* event)
{
    if (event->button() != Qt::LeftButton) return;
    m_pressed = false;
    setTyping(true);
}

void NumberField::wheelEvent(QWheelEvent* event)
{
    if (!hasFocus()) { // scrolling the sheet must not turn numbers
        event->ignore();
        return;
    }
    stepBy(event->angleDelta().y() / 120.0, event->modifiers(), m_gesture);
    event->accept();
}

void NumberField::keyPressEvent(QKeyEvent* event)
{
    switch (event->key()) {
    case Qt::Key_Up:
    case Qt::Key_Down:
        stepBy(event->key() == Qt::Key_Up ? 1.0 : -1.0, event->modifiers(), m_gesture);
        return;
    case Qt::Key_Escape:
        stopTyping();
        return;
    case Qt::Key_Backspace:
        if (event->modifiers() & Qt::ControlModifier) {
            stopTyping();
            change(m_format.defaultValue, newGesture());
            return;
        }
        break;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (!m_typing) {
            setTyping(true);
            return;
        }
        break;
    default:
        if (!m_typing && beginsNumber(*event)) setTyping(true);
    }
    if (m_typing)
        QLineEdit::keyPressEvent(event);
    else
        event->ignore(); // the window's
}

bool NumberField::event(QEvent* event)
{
    // While typing, letters and digits are text and not the window's shortcuts.
    if (event->type() == QEvent::ShortcutOverride) {
        const auto* key = static_cast<QKeyEvent*>(event);
        const bool plain = !(key->modifiers() & (Qt::ControlModifier | Qt::AltModifier));
        const bool isDefault = key->key() == Qt::Key_Backspace && key->modifiers() & Qt::ControlModifier;
        if (isDefault || (plain && (m_typing || beginsNumber(*key)))) {
            event->accept();
            return true;
        }
        if (!m_typing) return false;
    }
    return QLineEdit::event(event);
}

void NumberField::focusOutEvent(QFocusEvent* event)
{
    QLineEdit::focusOutEvent(event);
    if (event->reason() == Qt::PopupFocusReason) return;
    commitText();
    setTyping(false);
    m_gesture = newGesture();
}

void NumberField::contextMenuEvent(QContextMenuEvent* event)
{
    QMenu menu(this);
    menu.addAction(tr("Copy value"), this,
                   [this] { QApplication::clipboard()->setText(m_format.toText(m_value)); });
    menu.addAction(tr("Paste value"), this, [this] { take(QApplication::clipboard()->text()); });
    menu.addSeparator();
    menu.addAction(tr("Back to %1").arg(m_format.toText(m_format.defaultValue)), this,
                   [this] { change(m_format.defaultValue, newGesture()); })
        ->setShortcut(QKeySequence(tr("Ctrl+Backspace"))); // shown; the field hears the key itself
    if (m_marks != Marks::never) {
        menu.addSeparator();
        menu.addAction(tr("Set a mark here"), this, &NumberField::markAsked)
            ->setEnabled(m_marks != Marks::here);
        menu.addAction(tr("Clear the mark here"), this, &NumberField::clearMarkAsked)
            ->setEnabled(m_marks == Marks::here);
        menu.addAction(tr("Clear all its marks in this shot"), this, &NumberField::clearAllMarksAsked)
            ->setEnabled(m_marks == Marks::here || m_marks == Marks::elsewhere);
    }
    menu.exec(event->globalPos());
}

} // namespace retinex::app
