#pragma once

#include "core/passes/sequence.h"

#include <QByteArray>

namespace retinex::app {

/// Size and time of change of what a frame is read from, as text; "" where the frame is not there.
[[nodiscard]] QByteArray fileState(const passes::Sequence& files, int frame);

} // namespace retinex::app
