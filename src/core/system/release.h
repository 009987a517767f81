#pragma once

#include <cstddef>

namespace retinex {

/// Gives mapped memory (mmap) back to the system, soon, from a thread of its own: for a plane of 8 MB that
/// takes a quarter of a millisecond, and whoever drops a frame half done has thirty of them.
void releaseLater(void* memory, std::size_t bytes) noexcept;

/// The same of whole pages whose mapping stays: should they be looked at again, they are zero.
void forgetLater(void* memory, std::size_t bytes) noexcept;

} // namespace retinex
