#include "core/base/image.h"

#include <cstdlib>
#include <limits>
#include <sys/mman.h>

namespace retinex {

namespace {

/// From this size on, memory that was used before would have to be cleared, all of it at once, by whoever
/// asks.
constexpr std::size_t kLarge = std::size_t{1} << 20;

/// From this size on, pages of 2 MB are worth asking for.
constexpr std::size_t kHuge = std::size_t{8} << 20;

} // namespace

void* allocateZeroed(std::size_t count, std::size_t size)
{
    if (count > std::numeric_limits<std::size_t>::max() / size) throw std::bad_alloc();
    const std::size_t bytes = count * size;
    void* memory = nullptr;
    if (bytes < kLarge) {
        memory = std::calloc(count, size);
    } else {
        memory = mmap(nullptr, bytes, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
        if (memory == MAP_FAILED)
            memory = nullptr;
        else if (bytes >= kHuge)
            (void)madvise(memory, bytes, MADV_HUGEPAGE); // fewer faults, fewer misses; only a hint
    }
    if (!memory) throw std::bad_alloc();
    return memory;
}

void freeZeroed(void* memory, std::size_t bytes) noexcept
{
    if (bytes < kLarge)
        std::free(memory);
    else
        munmap(memory, bytes);
}

} // namespace retinex
