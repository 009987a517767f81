#pragma once

#include <cstddef>

namespace retinex {

/// Gives mapped memory (mmap) back to the system, soon, from a thread of its own: for 8 MB that takes a
/// quarter of a millisecond, and whoever drops a frame half done has hundreds to give back and better things
/// to do.
void releaseLater(void* memory, std::size_t bytes) noexcept;

} // namespace retinex
