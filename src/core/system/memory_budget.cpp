#include "core/system/memory_budget.h"

namespace retinex {

void MemoryBudget::add(Shelf& shelf)
{
    const std::lock_guard lock(m_mutex);
    m_shelves.push_back(&shelf);
}

void MemoryBudget::remove(Shelf& shelf)
{
    const std::lock_guard lock(m_mutex);
    std::erase(m_shelves, &shelf);
}

void MemoryBudget::setLimit(std::size_t bytes)
{
    const std::lock_guard lock(m_mutex);
    m_limit = bytes;
    trimLocked();
}

std::size_t MemoryBudget::limit() const
{
    const std::lock_guard lock(m_mutex);
    return m_limit;
}

std::size_t MemoryBudget::bytes() const
{
    const std::lock_guard lock(m_mutex);
    std::size_t sum = 0;
    for (const Shelf* shelf : m_shelves)
        sum += shelf->bytes();
    return sum;
}

void MemoryBudget::trim()
{
    const std::lock_guard lock(m_mutex);
    trimLocked();
}

void MemoryBudget::trimLocked()
{
    std::size_t sum = 0;
    for (const Shelf* shelf : m_shelves)
        sum += shelf->bytes();
    while (sum > m_limit) {
        Shelf* oldest = nullptr;
        std::uint64_t use = kNever;
        for (Shelf* shelf : m_shelves) {
            const std::uint64_t its = shelf->oldestUse();
            if (its < use) {
                use = its;
                oldest = shelf;
            }
        }
        if (!oldest) return;
        const std::size_t before = oldest->bytes();
        oldest->dropOldest();
        sum -= std::min(sum, before - std::min(before, oldest->bytes()));
    }
}

} // namespace retinex
