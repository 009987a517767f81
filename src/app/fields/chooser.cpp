#include "app/fields/chooser.h"

#include "app/fields/named_value.h"
#include "app/look/tips.h"

#include <QHelpEvent>
#include <QStylePainter>
#include <QToolTip>
#include <algorithm>

namespace retinex::app {

namespace {

constexpr int kBeside = 28;      ///< px beside the text: border, padding and arrow (see look/style)
constexpr int kLeastLetters = 6; ///< that are shown of a text, where the layout asks for how little will do

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

QSize Chooser::minimumSizeHint() const
{
    const QSize usual = sizeHint();
    const int least = kBeside + kLeastLetters * fontMetrics().averageCharWidth();
    return {std::min(usual.width(), least), usual.height()};
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
    box->setMinimumWidth(84); // ends of a name
    box->setMaxVisibleItems(24);
    return box;
}

} // namespace retinex::app
