#include "app/fields/value_label.h"

#include "app/fields/named_value.h"
#include "app/look/style.h"

#include <QResizeEvent>

namespace retinex::app {

WrappedLabel::WrappedLabel(const QString& text, QWidget* parent) : QLabel(text, parent)
{
    setWordWrap(true);
    setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Minimum);
}

QSize WrappedLabel::minimumSizeHint() const
{
    return {20, text().isEmpty() ? 0 : heightForWidth(width())};
}

void WrappedLabel::resizeEvent(QResizeEvent* event)
{
    QLabel::resizeEvent(event);
    if (event->oldSize().width() != width()) updateGeometry();
}

QLabel* valueLabel(const char* name)
{
    nameValues();
    auto* label = new ValueLabel;
    label->setObjectName(QLatin1String(name));
    label->setFont(style::numberFont(9));
    label->setTextInteractionFlags(Qt::TextSelectableByMouse);
    label->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    label->setContentsMargins(0, 1, 2, 1);
    label->setMinimumWidth(20);
    return label;
}

QLabel* wordsLabel(const char* name)
{
    auto* label = new WrappedLabel;
    label->setObjectName(QLatin1String(name));
    label->setFont(style::textFont(8.5));
    label->setTextInteractionFlags(Qt::TextSelectableByMouse);
    label->setStyleSheet(QStringLiteral("color: %1;").arg(style::dimText.name()));
    return label;
}

} // namespace retinex::app
