#include "app/layout/wrapped_label.h"

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

} // namespace retinex::app
