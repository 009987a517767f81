#include "core/base/release.h"

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

    void add(void* memory, std::size_t bytes)
    {
        {
            const std::lock_guard lock(m_mutex);
            m_pieces.push_back({memory, bytes});
        }
        m_added.notify_one();
    }

private:
    struct Piece
    {
        void* memory;
        std::size_t bytes;
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
                munmap(piece.memory, piece.bytes);
            pieces.clear();
        }
    }

    std::mutex m_mutex;
    std::condition_variable m_added;
    std::vector<Piece> m_pieces;
};

} // namespace

void releaseLater(void* memory, std::size_t bytes) noexcept
{
    try {
        // Never destroyed: static objects may have planes, too.
        static auto* const releaser = new Releaser;
        releaser->add(memory, bytes);
    } catch (...) { // no thread, no memory for the list
        munmap(memory, bytes);
    }
}

} // namespace retinex
