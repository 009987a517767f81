#pragma once

#include "core/system/error.h"

#include <algorithm>
#include <cstddef>
#include <functional>
#include <stop_token>

namespace retinex {

/// Throws Cancelled where `stop` asks for it.
inline void throwIfStopped(const std::stop_token& stop)
{
    if (stop.stop_requested()) throw Cancelled{};
}

/// How a piece of work is carried out; never what it computes: results are the same for any Run.
struct Run
{
    int threads = 0;                      ///< worker threads; 0 means all cores
    std::function<void(double)> progress; ///< 0..1, rising; called from any worker, one call at a time
    std::stop_token stop;                 ///< ask it to stop; the work then throws Cancelled

    void throwIfStopped() const { retinex::throwIfStopped(stop); }
};

/// Calls body(i) for every i in [0, count), on `run.threads` threads, in any order. Looks at the stop
/// request before each call and reports progress (share of calls done, mapped to [from, to]).
/// Throws Cancelled, or whatever a body threw first.
void parallelFor(int count, const Run& run, const std::function<void(int)>& body, double from = 0.0,
                 double to = 1.0);

/// The same for many short calls: a piece of them at a time.
template <class Body>
void parallelForMany(std::size_t count, const Run& run, Body body)
{
    constexpr std::size_t piece = 1024;
    parallelFor(static_cast<int>((count + piece - 1) / piece), run, [&](int index) {
        const std::size_t first = static_cast<std::size_t>(index) * piece;
        for (std::size_t i = first; i < std::min(first + piece, count); ++i)
            body(i);
    });
}

} // namespace retinex
