#pragma once

namespace retinex::finish {

/// Grows with every change of the pixels that finish makes: pictures kept by an older one are not shown.
constexpr int kFinishVersion = 1;

} // namespace retinex::finish
