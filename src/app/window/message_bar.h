#pragma once

#include <QLabel>
#include <QTime>
#include <QWidget>
#include <functional>
#include <vector>

class QToolButton;

namespace retinex::app {

/// A line that lies over the top of the picture and tells what went wrong, or what to know, until it is
/// closed. Nothing moves when it comes or goes. What was said is remembered.
class MessageBar : public QWidget
{
    Q_OBJECT

public:
    enum class Kind { trouble, notice };
    struct Said
    {
        QTime time;
        Kind kind;
        QString text;
    };

    explicit MessageBar(QWidget* over);
    void show(Kind kind, const QString& text);
    /// With a button that does something about it.
    void show(Kind kind, const QString& text, const QString& action, std::function<void()> work);
    [[nodiscard]] QString text() const { return m_text->text(); }
    [[nodiscard]] const std::vector<Said>& said() const noexcept { return m_said; }

    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void place();

    QLabel* m_mark;
    QLabel* m_text;
    QToolButton* m_action;
    std::function<void()> m_work;
    std::vector<Said> m_said;
};

} // namespace retinex::app
