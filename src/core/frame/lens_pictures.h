#pragma once

#include "core/image/image.h"
#include "core/system/memory_budget.h"

#include <atomic>
#include <string>

namespace retinex::frame {

/// The last pictures through the lens, between it and finish: changing a finish runs no lens. By what they
/// depend on. Thread-safe.
class LensPictures
{
public:
    explicit LensPictures(MemoryBudgetPtr budget = std::make_shared<MemoryBudget>())
        : m_kept(std::move(budget), 0.2, kLeast)
    {
    }

    [[nodiscard]] std::shared_ptr<const RgbaImage> find(const std::string& key) { return m_kept.find(key); }
    /// That the lens has just made.
    void put(const std::string& key, const std::shared_ptr<const RgbaImage>& picture)
    {
        ++m_runs;
        keep(key, picture);
    }
    /// That was made from another one.
    void keep(const std::string& key, const std::shared_ptr<const RgbaImage>& picture)
    {
        m_kept.put(key, picture,
                   RgbaImage::channels * sizeof(float) * static_cast<std::size_t>(picture->width()) *
                       static_cast<std::size_t>(picture->height()));
    }
    /// How often the lens has run for it.
    [[nodiscard]] int runs() const noexcept { return m_runs; }

private:
    static constexpr std::size_t kLeast = 3; ///< coarse, refined, and one more

    KeptValues<std::string, RgbaImage> m_kept;
    std::atomic<int> m_runs = 0;
};

} // namespace retinex::frame
