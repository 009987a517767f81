#pragma once

#include <QLabel>
#include <QWidget>
#include <functional>

class QToolButton;

namespace retinex::app {

/// A line over the picture that tells what went wrong, or what to know, until it is closed.
class MessageBar : public QWidget
{
    Q_OBJECT

public:
    enum class Kind { trouble, notice };

    explicit MessageBar(QWidget* parent = nullptr);
    void show(Kind kind, const QString& text);
    /// With a button that does something about it.
    void show(Kind kind, const QString& text, const QString& action, std::function<void()> work);
    [[nodiscard]] QString text() const { return m_text->text(); }

private:
    QLabel* m_mark;
    QLabel* m_text;
    QToolButton* m_action;
    std::function<void()> m_work;
};

} // namespace retinex::app
