#include "core/system/run.h"

#include <mutex>
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

namespace retinex {

void parallelFor(int count, const Run& run, const std::function<void(int)>& body, double from, double to)
{
    if (count <= 0) return;
    int done = 0;
    std::mutex progressMutex;
    const auto step = [&](int i) {
        run.throwIfStopped();
        body(i);
        if (run.progress) {
            const std::lock_guard lock(progressMutex);
            ++done;
            run.progress(from + (to - from) * done / count);
        }
    };
    if (run.threads == 1) {
        for (int i = 0; i < count; ++i)
            step(i);
        return;
    }
    tbb::task_arena arena(run.threads > 0 ? run.threads : tbb::task_arena::automatic);
    arena.execute([&] { tbb::parallel_for(0, count, step, tbb::simple_partitioner{}); });
}

} // namespace retinex
