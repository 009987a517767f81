#pragma once

#include <QLineEdit>
#include <functional>
#include <optional>

namespace retinex::app {

/// How a field's number is written, read and stepped.
struct NumberFormat
{
    std::function<QString(double)> toText;
    std::function<std::optional<double>(const QString&)> fromText;
    double minimum = 0.0;
    double maximum = 1e9;
    double defaultValue = 0.0;
    bool geometric = true; ///< steps multiply (lens and distance); otherwise they add
    double step = 0.02;    ///< of one px of scrubbing or one arrow key: a share, or an amount
    /// What a value becomes that was stepped or typed, from the one before; empty: itself.
    std::function<double(double value, double before)> settle;
};

/// A number: type it with its unit, drag sideways to scrub, wheel, arrow keys; a double click selects all of
/// it. Shift is ten times coarser, Ctrl ten times finer. Right click copies, pastes or resets, and so does
/// Ctrl+Backspace. What is typed and does not fit is refused, never bent into what does.
class NumberField : public QLineEdit
{
    Q_OBJECT

public:
    NumberField(NumberFormat format, QWidget* parent = nullptr);

    void setValue(double value);
    [[nodiscard]] double value() const noexcept { return m_value; }
    [[nodiscard]] bool isTyping() const noexcept { return m_typing; }
    /// What was typed is left; the value is shown again.
    void stopTyping();
    /// "f/0.1 to f/128": what fits.
    [[nodiscard]] QString fits() const;
    /// Why a text was refused, for a field of this name, in a sentence.
    [[nodiscard]] QString refusal(const QString& name, const QString& text) const;
    void setFormat(NumberFormat format);

    /// Whether the setting may have marks, and has some: shown by a dot, full on a mark's frame.
    enum class Marks { never, none, elsewhere, here };
    void setMarks(Marks marks);
    [[nodiscard]] Marks marks() const noexcept { return m_marks; }

signals:
    /// By the user. Values of one drag, or of one run of wheel turns or key presses, bear the same gesture.
    void edited(double value, int gesture);
    void rejected(const QString& text); ///< it is no value, or does not fit; nothing changed
    /// From the context menu.
    void markAsked();
    void clearMarkAsked();
    void clearAllMarksAsked();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    bool event(QEvent* event) override;

private:
    void commitText();
    void take(const QString& typed);
    void showValue();
    void stepBy(double steps, Qt::KeyboardModifiers modifiers, int gesture);
    void change(double value, int gesture);
    void setTyping(bool typing);

    NumberFormat m_format;
    Marks m_marks = Marks::never;
    double m_value = 0.0;
    double m_pressValue = 0.0;
    QPoint m_pressPos;
    bool m_pressed = false;
    bool m_scrubbing = false;
    bool m_typing = false;
    int m_gesture = 0;
};

} // namespace retinex::app
