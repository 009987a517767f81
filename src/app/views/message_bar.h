#pragma once

#include <QLabel>
#include <QWidget>

namespace retinex::app {

/// A line over the picture that tells what went wrong, or what to know, until it is closed.
class MessageBar : public QWidget
{
    Q_OBJECT

public:
    enum class Kind { trouble, notice };

    explicit MessageBar(QWidget* parent = nullptr);
    void show(Kind kind, const QString& text);
    [[nodiscard]] QString text() const { return m_text->text(); }

private:
    QLabel* m_mark;
    QLabel* m_text;
};

} // namespace retinex::app
