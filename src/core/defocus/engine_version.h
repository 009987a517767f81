#pragma once

namespace retinex::defocus {

/// Grows with every change of the pixels that the engine makes: pictures kept by an older one are not shown.
constexpr int kEngineVersion = 6;

} // namespace retinex::defocus
