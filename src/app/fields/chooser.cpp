#include "app/fields/chooser.h"

#include "app/fields/named_value.h"

#include <QHelpEvent>
#include <QStylePainter>
#include <QToolTip>

namespace retinex::app {

namespace {

constexpr int kTextMargin = 4; ///< of the style, at either side of the label

} // namespace

Chooser::Chooser(QWidget* parent) : QComboBox(parent)
{
    nameValues();
}

QString Chooser::shownText() const
{
    QStyleOptionComboBox option;
    initStyleOption(&option);
    const int room =
        style()->subControlRect(QStyle::CC_ComboBox, &option, QStyle::SC_ComboBoxEditField, this).width();
    return fontMetrics().elidedText(currentText(), Qt::ElideMiddle, room - kTextMargin);
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
