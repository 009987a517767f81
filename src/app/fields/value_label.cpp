#include "app/fields/value_label.h"

#include "app/fields/named_value.h"
#include "app/look/style.h"

#include <QEvent>

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
    label->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    return label;
}

namespace {

/// Words that wrap to the width they get and are as high as that asks for, whatever the layout thinks.
class WrappedLabel : public QLabel
{
public:
    WrappedLabel()
    {
        setWordWrap(true);
        setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Minimum);
    }

protected:
    void resizeEvent(QResizeEvent* event) override
    {
        QLabel::resizeEvent(event);
        fit();
    }
    bool event(QEvent* event) override
    {
        const bool taken = QLabel::event(event);
        if (event->type() == QEvent::LayoutRequest || event->type() == QEvent::Show) fit();
        return taken;
    }

private:
    void fit() { setMinimumHeight(text().isEmpty() ? 0 : heightForWidth(width())); }
};

} // namespace

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
