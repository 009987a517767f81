#include "app/fields/name_button.h"

#include <QStyleOptionButton>
#include <QStyleOptionToolButton>

namespace retinex::app {

namespace {

// Px beside the text: border and padding, and the menu's arrow (see look/style).
constexpr int kBesideText = 22;
constexpr int kBesideTextAndArrow = 32;

} // namespace

QString shortenedFor(const QWidget& button, const QString& text, int beside)
{
    return button.fontMetrics().elidedText(text, Qt::ElideMiddle, button.width() - beside);
}

NameButton::NameButton(const QString& text) : QPushButton(text)
{
    setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    setMinimumWidth(64);
}

void NameButton::initStyleOption(QStyleOptionButton* option) const
{
    QPushButton::initStyleOption(option);
    option->text = shortenedFor(*this, option->text, kBesideText);
}

NameMenuButton::NameMenuButton()
{
    setPopupMode(QToolButton::InstantPopup);
    setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    setMinimumWidth(64);
}

void NameMenuButton::initStyleOption(QStyleOptionToolButton* option) const
{
    QToolButton::initStyleOption(option);
    option->text = shortenedFor(*this, option->text, kBesideTextAndArrow);
}

} // namespace retinex::app
