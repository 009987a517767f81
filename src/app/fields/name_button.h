#pragma once

#include <QPushButton>
#include <QToolButton>

namespace retinex::app {

/// A text that is shortened in the middle to go into `button`, but for `beside` px.
[[nodiscard]] QString shortenedFor(const QWidget& button, const QString& text, int beside);

/// A button whose text is a name, of a file or of things that are followed: where there is not room for it,
/// it is shortened in the middle. Its tip should tell the whole.
class NameButton : public QPushButton
{
    Q_OBJECT

public:
    explicit NameButton(const QString& text = {});

protected:
    void initStyleOption(QStyleOptionButton* option) const override;
};

/// The same with a menu.
class NameMenuButton : public QToolButton
{
    Q_OBJECT

public:
    NameMenuButton();

protected:
    void initStyleOption(QStyleOptionToolButton* option) const override;
};

} // namespace retinex::app
