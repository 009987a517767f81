#pragma once

#include <algorithm>
#include <atomic>
#include <cstddef>
#include <cstdint>
#include <limits>
#include <list>
#include <memory>
#include <mutex>
#include <optional>
#include <vector>

namespace retinex {

/// The memory that caches of all stages share, counted in bytes: when it is full, what was used longest ago
/// goes first, whichever cache has it. Thread-safe.
class MemoryBudget
{
public:
    static constexpr std::size_t kUsualBytes = std::size_t(1) << 30U;

    /// A cache that counts here. Its methods are called with the budget's lock held and may take its own; it
    /// must hold none when it calls the budget.
    class Shelf
    {
    public:
        virtual ~Shelf() = default;
        [[nodiscard]] virtual std::size_t bytes() const = 0;
        /// When (see now()) the value that goes next was used; kNever where nothing may go.
        [[nodiscard]] virtual std::uint64_t oldestUse() const = 0;
        virtual void dropOldest() = 0;
    };
    static constexpr std::uint64_t kNever = std::numeric_limits<std::uint64_t>::max();

    explicit MemoryBudget(std::size_t limitBytes = kUsualBytes) : m_limit(limitBytes) {}

    void add(Shelf& shelf);
    void remove(Shelf& shelf);
    /// Lets go of what is too much.
    void setLimit(std::size_t bytes);
    [[nodiscard]] std::size_t limit() const;
    [[nodiscard]] std::size_t bytes() const;
    /// To be called when a shelf has grown.
    void trim();
    /// Rises with every call.
    [[nodiscard]] std::uint64_t now() noexcept { return ++m_clock; }

private:
    void trimLocked();

    mutable std::mutex m_mutex;
    std::size_t m_limit;
    std::vector<Shelf*> m_shelves;
    std::atomic<std::uint64_t> m_clock = 0;
};

using MemoryBudgetPtr = std::shared_ptr<MemoryBudget>;

/// Values that were made of something, newest first, in a MemoryBudget. Few enough to be looked through one
/// by one. Thread-safe.
template <class Key, class Value>
class KeptValues final : public MemoryBudget::Shelf
{
public:
    using ValuePtr = std::shared_ptr<const Value>;

    /// The `least` newest are kept whatever they take; all others take at most `share` of the budget.
    KeptValues(MemoryBudgetPtr budget, double share, std::size_t least)
        : m_budget(std::move(budget)), m_share(share), m_least(std::max<std::size_t>(1, least))
    {
        m_budget->add(*this);
    }
    ~KeptValues() override { m_budget->remove(*this); }
    KeptValues(const KeptValues&) = delete;
    KeptValues& operator=(const KeptValues&) = delete;

    /// Null when it is not there; else the newest from now on.
    [[nodiscard]] ValuePtr find(const Key& key)
    {
        const std::lock_guard lock(m_mutex);
        const auto it =
            std::find_if(m_kept.begin(), m_kept.end(), [&](const Entry& entry) { return entry.key == key; });
        if (it == m_kept.end()) return nullptr;
        it->use = m_budget->now();
        m_kept.splice(m_kept.begin(), m_kept, it);
        return it->value;
    }
    /// The same without a use.
    [[nodiscard]] bool contains(const Key& key) const
    {
        const std::lock_guard lock(m_mutex);
        return std::any_of(m_kept.begin(), m_kept.end(),
                           [&](const Entry& entry) { return entry.key == key; });
    }
    /// In place of one with the same key.
    ValuePtr put(Key key, ValuePtr value, std::size_t bytes)
    {
        removeIf([&](const Key& other) { return other == key; });
        const std::size_t most = static_cast<std::size_t>(m_share * static_cast<double>(m_budget->limit()));
        {
            const std::lock_guard lock(m_mutex);
            m_kept.push_front({std::move(key), value, bytes, m_budget->now()});
            m_bytes += bytes;
            while (m_kept.size() > m_least && m_bytes > most)
                drop();
        }
        m_budget->trim();
        return value;
    }
    /// Those for which `goes(key)` is true go.
    template <class Goes>
    void removeIf(Goes goes)
    {
        const std::lock_guard lock(m_mutex);
        m_kept.remove_if([&](const Entry& entry) {
            if (!goes(entry.key)) return false;
            m_bytes -= entry.bytes;
            return true;
        });
    }
    void clear()
    {
        removeIf([](const Key&) { return true; });
    }

    [[nodiscard]] std::size_t bytes() const override
    {
        const std::lock_guard lock(m_mutex);
        return m_bytes;
    }
    [[nodiscard]] std::uint64_t oldestUse() const override
    {
        const std::lock_guard lock(m_mutex);
        return m_kept.size() > m_least ? m_kept.back().use : MemoryBudget::kNever;
    }
    void dropOldest() override
    {
        const std::lock_guard lock(m_mutex);
        if (m_kept.size() > m_least) drop();
    }

private:
    struct Entry
    {
        Key key;
        ValuePtr value;
        std::size_t bytes;
        std::uint64_t use;
    };
    void drop()
    {
        m_bytes -= m_kept.back().bytes;
        m_kept.pop_back();
    }

    MemoryBudgetPtr m_budget;
    double m_share;
    std::size_t m_least;
    mutable std::mutex m_mutex;
    std::list<Entry> m_kept; ///< newest first
    std::size_t m_bytes = 0;
};

} // namespace retinex
