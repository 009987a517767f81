#include "core/system/release.h"

#include <condition_variable>
#include <mutex>
#include <sys/mman.h>
#include <thread>
#include <utility>
#include <vector>

namespace retinex {

namespace {

class Releaser
{
public:
    Releaser()
    {
        std::thread([this] { work(); }).detach();
    }

    void add(void* memory, std::size_t bytes, bool isMappingKept)
    {
        {
            const std::lock_guard lock(m_mutex);
            m_pieces.push_back({memory, bytes, isMappingKept});
        }
        m_added.notify_one();
    }

private:
    struct Piece
    {
        void* memory;
        std::size_t bytes;
        bool isMappingKept;

        void release() const
        {
            if (isMappingKept)
                (void)madvise(memory, bytes, MADV_DONTNEED);
            else
                munmap(memory, bytes);
        }
    };

    [[noreturn]] void work()
    {
        std::vector<Piece> pieces;
        for (;;) {
            {
                std::unique_lock lock(m_mutex);
                m_added.wait(lock, [this] { return !m_pieces.empty(); });
                std::swap(pieces, m_pieces);
            }
            for (const Piece& piece : pieces)
                piece.release(); // in the order they came
            pieces.clear();
        }
    }

    std::mutex m_mutex;
    std::condition_variable m_added;
    std::vector<Piece> m_pieces;
};

Releaser& releaser()
{
    // Never destroyed: static objects may have planes, too.
    static auto* const only = new Releaser;
    return *only;
}

} // namespace

void releaseLater(void* memory, std::size_t bytes) noexcept
{
    try {
        releaser().add(memory, bytes, false);
    } catch (...) { // no thread, no memory for the list
        // Not unmapped: parts of it may be in the list.
        (void)madvise(memory, bytes, MADV_DONTNEED);
    }
}

void forgetLater(void* memory, std::size_t bytes) noexcept
{
    try {
        releaser().add(memory, bytes, true);
    } catch (...) { // it goes with the rest
    }
}

} // namespace retinex
