#pragma once

#include "app/look/style.h"
#include "core/optics/iris.h"

#include <QPainter>
#include <QPointF>
#include <cmath>

/// Small things that drawing and showing regions have in common.
namespace retinex::app {

inline QPointF toQt(const optics::Point& point)
{
    return {point.x, point.y};
}

/// To 1/100 px: finer than a hand is, and short in the file.
inline optics::Point fromQt(QPointF point)
{
    return {std::round(point.x() * 100.0) / 100.0, std::round(point.y() * 100.0) / 100.0};
}

/// Dark below, light above: seen on any picture.
template <class Draw>
void twice(QPainter& painter, double width, Draw draw)
{
    for (const auto& [colour, wide] :
         {std::pair{QColor(20, 20, 20), width + 2.0}, std::pair{style::text, width}}) {
        painter.setPen(QPen(colour, wide));
        draw();
    }
}

} // namespace retinex::app
