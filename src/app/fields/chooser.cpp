#include "app/fields/chooser.h"

#include "app/fields/named_value.h"

#include <QHelpEvent>
#include <QStylePainter>
#include <QToolTip>

namespace retinex::app {

namespace {

constexpr int kBeside = 24; ///< px beside the text: border, padding and arrow (see look/style)

} // namespace

Chooser::Chooser(QWidget* parent) : QComboBox(parent)
{
    nameValues();
}

QString Chooser::shownText() const
{
    const QString text = currentIndex() < 0 ? placeholderText() : currentText();
    return fontMetrics().elidedText(text, Qt::ElideMiddle, width() - kBeside);
}

bool Chooser::event(QEvent* event)
{
    if (event->type() == QEvent::ToolTip && shownText() != currentText()) {
        QString text = currentText();
        if (!toolTip().isEmpty()) text += QLatin1Char('\n') + toolTip();
        QToolTip::showText(static_cast<QHelpEvent*>(event)->globalPos(), text, this);
        return true;
    }
    return QComboBox::event(event);
}

void Chooser::paintEvent(QPaintEvent* event)
{
    if (isEditable()) {
        QComboBox::paintEvent(event);
        return;
    }
    QStylePainter painter(this);
    QStyleOptionComboBox option;
    initStyleOption(&option);
    painter.drawComplexControl(QStyle::CC_ComboBox, option);
    option.currentText = shownText();
    painter.drawControl(QStyle::CE_ComboBoxLabel, option);
}

} // namespace retinex::app
