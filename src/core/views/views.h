#pragma once

#include "core/base/words.h"

/// More than one view: what one frame of a sequence hides, others may show.
namespace retinex::views {

/// How far other frames are looked at: not at all; those in which what is near has moved by about its own
/// blur; and farther ones as well.
enum class Views { off, nearFrames, farFrames };

} // namespace retinex::views

namespace retinex {

template <>
inline constexpr std::array<std::string_view, 3> kWords<views::Views>{"off", "near", "far"};

} // namespace retinex
