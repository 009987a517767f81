#pragma once

#include <QLabel>
#include <QTime>
#include <QTimer>
#include <QWidget>
#include <functional>
#include <vector>

class QToolButton;

namespace retinex::app {

/// A line that lies over the top of the picture and tells what went wrong, or what to know, until it is
/// closed; or one in the place of another line, which leaves by itself. Nothing moves when it comes or goes.
/// What was said is remembered.
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

    enum class Place { overTop, insteadOf };

    /// `log` remembers what is said, where it is not the bar itself.
    explicit MessageBar(QWidget* over, Place place = Place::overTop, MessageBar* log = nullptr);
    void show(Kind kind, const QString& text);
    /// With a button that does something about it.
    void show(Kind kind, const QString& text, const QString& action, std::function<void()> work);
    [[nodiscard]] QString text() const { return m_text->text(); }
    [[nodiscard]] const std::vector<Said>& said() const noexcept { return m_said; }

    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void place();

    Place m_place;
    QTimer m_leaves; ///< of one that leaves by itself
    QLabel* m_mark;
    QLabel* m_text;
    QToolButton* m_action;
    std::function<void()> m_work;
    std::vector<Said> m_said;
    std::vector<Said>& m_log;
};

} // namespace retinex::app
