#pragma once

#include "app/pictures/blur_picture.h"

#include <QPainter>

namespace retinex::app {

/// In the lower left corner of a view of this height: which tone is how much CoC, in px and on the sensor.
void paintBlurLegend(QPainter& painter, const BlurTones& tones, int viewHeight);
/// What is what in the Repair view.
void paintRepairLegend(QPainter& painter, QSize view);

} // namespace retinex::app
