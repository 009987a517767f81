#pragma once

#include "core/system/words.h"

/// More than one view: what one frame of a sequence hides, others may show.
namespace retinex::others {

/// How far other frames are looked at: not at all; those in which what is near has moved by about its own
/// blur; and farther ones as well.
enum class OtherFrames { off, nearFrames, farFrames };

} // namespace retinex::others

namespace retinex {

template <>
inline constexpr std::array<std::string_view, 3> kWords<others::OtherFrames>{"off", "near", "far"};

} // namespace retinex
