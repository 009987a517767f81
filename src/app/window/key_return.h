#pragma once

#include <QObject>
#include <QWidget>

namespace retinex::app {

/// Gives the keys back to the picture when a field is done with: after Return, Escape, a choice from a list,
/// a click elsewhere in the window, or when what has them is switched off. So space plays and arrows step
/// again without anybody having to look where the keys are. A click in the picture that ends typing does no
/// more.
class KeyReturn : public QObject
{
    Q_OBJECT

public:
    /// For all in `window`; `home` takes the keys.
    KeyReturn(QWidget& window, QWidget& home);

    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    [[nodiscard]] bool isOurs(const QObject* object) const;
    /// What is typed in, or null.
    [[nodiscard]] QWidget* typedIn() const;
    [[nodiscard]] bool keyPressed(QWidget& field, QEvent& event);

    QWidget& m_window;
    QWidget& m_home;
    bool m_leftTyping = false; ///< by the press that is about to come
    bool m_swallowsRelease = false;
};

} // namespace retinex::app
