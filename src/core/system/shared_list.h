#pragma once

#include <memory>
#include <vector>

namespace retinex {

/// A list that is never changed once made, so that copies of what holds it (each step to undo) share it.
template <class T>
class SharedList
{
public:
    SharedList() = default;
    SharedList(std::vector<T> items) // NOLINT: a list is a list
        : m_items(items.empty() ? nullptr : std::make_shared<const std::vector<T>>(std::move(items)))
    {
    }
    [[nodiscard]] bool empty() const noexcept { return !m_items; }
    [[nodiscard]] const std::vector<T>& items() const noexcept
    {
        static const std::vector<T> none;
        return m_items ? *m_items : none;
    }
    [[nodiscard]] auto begin() const noexcept { return items().begin(); }
    [[nodiscard]] auto end() const noexcept { return items().end(); }
    [[nodiscard]] std::size_t size() const noexcept { return items().size(); }

    friend bool operator==(const SharedList& a, const SharedList& b)
    {
        return a.m_items == b.m_items || a.items() == b.items();
    }

private:
    std::shared_ptr<const std::vector<T>> m_items;
};

} // namespace retinex
