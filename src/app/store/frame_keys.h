#pragma once

#include "app/pictures/picture_maker.h"

#include <QByteArray>
#include <vector>

namespace retinex::app {

/// For each frame worked on, from the first, what its picture in a view depends on, as a short text: settings
/// at their value there, the passes and the state of their files, the view transform and the size. Frames
/// that an edit does not touch keep theirs. Of `request` all but frame, number and what is visible.
[[nodiscard]] std::vector<QByteArray> frameKeys(const PictureRequest& request, int divisor);

} // namespace retinex::app
