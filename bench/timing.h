#pragma once

#include <algorithm>
#include <chrono>

namespace retinex::bench {

template <class Work>
double secondsOf(Work work)
{
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

/// The quickest of `repeats`: what the work takes without the machine's other business.
template <class Work>
double quickest(int repeats, Work work)
{
    double best = 1e9;
    for (int i = 0; i < repeats; ++i)
        best = std::min(best, secondsOf(work));
    return best;
}

} // namespace retinex::bench
