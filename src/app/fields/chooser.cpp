#include "app/fields/chooser.h"

#include "app/fields/named_value.h"
#include "app/look/tips.h"

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
    setProperty(kOwnTip, true);
}

QString Chooser::shownText() const
{
    const QString text = currentIndex() < 0 ? placeholderText() : currentText();
    return fontMetrics().elidedText(text, Qt::ElideMiddle, width() - kBeside);
}

/// The whole text where it is cut, then what the chooser is for; below it.
bool Chooser::event(QEvent* event)
{
    if (event->type() != QEvent::ToolTip) return QComboBox::event(event);
    QStringList lines;
    if (!isEditable() && currentIndex() >= 0 && shownText() != currentText()) lines << currentText();
    if (!toolTip().isEmpty()) lines << toolTip();
    if (!lines.isEmpty()) QToolTip::showText(belowFor(*this), lines.join(QLatin1Char('\n')), this);
    return true;
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

Chooser* sheetChooser(const QString& name)
{
    auto* box = new Chooser;
    box->setObjectName(name);
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    box->setMinimumContentsLength(4);
    box->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    box->setMinimumWidth(64); // the beginning of a name
    box->setMaxVisibleItems(24);
    return box;
}

} // namespace retinex::app
