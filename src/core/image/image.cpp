#include "core/image/image.h"

#include "core/system/release.h"

#include <algorithm>
#include <cstdint>
#include <cstdlib>
#include <limits>
#include <sys/mman.h>

namespace retinex {

namespace {

/// Larger pages than usual: fewer faults, fewer misses. Worth asking for from twice their size on.
constexpr std::size_t kHugePage = std::size_t{2} << 20;

/// Whole huge pages, where little is lost: the kernel places only those on a page's boundary. Of a plane of
/// 1920 x 1080 floats one percent is lost.
std::size_t mappedSize(std::size_t bytes)
{
    const std::size_t whole = (bytes + kHugePage - 1) / kHugePage * kHugePage;
    return whole - bytes <= bytes / 8 ? whole : bytes;
}

} // namespace

void* allocateZeroed(std::size_t count, std::size_t size)
{
    if (count > std::numeric_limits<std::size_t>::max() / size) throw std::bad_alloc();
    const std::size_t bytes = count * size;
    void* memory = nullptr;
    if (bytes < kLargeBytes) {
        memory = std::calloc(count, size);
    } else {
        const std::size_t mapped = mappedSize(bytes);
        memory = mmap(nullptr, mapped, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
        if (memory == MAP_FAILED)
            memory = nullptr;
        else if (bytes >= 2 * kHugePage)
            (void)madvise(memory, mapped, MADV_HUGEPAGE); // only a hint
    }
    if (!memory) throw std::bad_alloc();
    return memory;
}

void freeZeroed(void* memory, std::size_t bytes) noexcept
{
    if (bytes < kLargeBytes)
        std::free(memory);
    else
        releaseLater(memory, mappedSize(bytes));
}

void expectFewTouched(void* memory, std::size_t bytes) noexcept
{
    if (bytes >= 2 * kHugePage) (void)madvise(memory, mappedSize(bytes), MADV_NOHUGEPAGE); // only a hint
}

void forgetStart(void* memory, std::size_t known, std::size_t end) noexcept
{
    const auto start = reinterpret_cast<std::uintptr_t>(memory);
    const auto first = std::max(start, (start + known) / kHugePage * kHugePage);
    const auto last = (start + end) / kHugePage * kHugePage;
    if (first < last) forgetLater(reinterpret_cast<void*>(first), last - first);
}

} // namespace retinex
