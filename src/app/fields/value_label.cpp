#include "app/fields/value_label.h"

#include "app/fields/named_value.h"
#include "app/look/style.h"

namespace retinex::app {

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
