#pragma once

#include <QColor>
#include <QRectF>
#include <QString>
#include <QWidget>
#include <vector>

namespace retinex::test {

/// A line of text as a widget draws it.
struct DrawnText
{
    QString text;
    QRectF box;  ///< of its ink; px of the widget
    QRectF seen; ///< what of the widget it may be drawn in
    QColor colour;
};

/// All that a widget itself writes, without its children, whatever it is drawn by.
[[nodiscard]] std::vector<DrawnText> drawnTexts(QWidget& widget);

} // namespace retinex::test
