#pragma once

#include <chrono>
#include <deque>
#include <filesystem>
#include <functional>
#include <future>

namespace retinex::delivery {

/// Whether frames of that size are read and written while others are rendered. Of larger ones memory for two
/// is worth more than the tenth of the time that it would save.
inline bool areOverlapped(int width, int height)
{
    return static_cast<long long>(width) * height <= 24'000'000;
}

/// Frames that are packed and written while the next ones are rendered; told of in the order they were added.
class Writes
{
public:
    /// Told of each: `failure` is "" of one that was written.
    using Told =
        std::function<void(int frame, const std::filesystem::path& file, const std::string& failure)>;

    explicit Writes(Told told) : m_told(std::move(told)) {}

    /// `write` says why it failed, or "". Waits where more are under way than are worth their memory.
    void add(int frame, std::filesystem::path file, std::function<std::string()> write)
    {
        while (m_writes.size() >= kMost)
            tellFirst();
        m_writes.push_back({frame, std::move(file), std::async(std::launch::async, std::move(write))});
        while (!m_writes.empty() &&
               m_writes.front().failure.wait_for(std::chrono::seconds(0)) == std::future_status::ready)
            tellFirst();
    }
    /// Waits for all.
    void finish()
    {
        while (!m_writes.empty())
            tellFirst();
    }

private:
    /// A slow disk may take as long as two frames.
    static constexpr std::size_t kMost = 3;
    struct Write
    {
        int frame;
        std::filesystem::path file;
        std::future<std::string> failure; ///< waits in its destructor
    };
    void tellFirst()
    {
        Write first = std::move(m_writes.front());
        m_writes.pop_front();
        m_told(first.frame, first.file, first.failure.get());
    }

    Told m_told;
    std::deque<Write> m_writes;
};

} // namespace retinex::delivery
