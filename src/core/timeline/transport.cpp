#include "core/timeline/transport.h"

#include <algorithm>
#include <set>

namespace retinex::timeline {

int frameAfter(const FrameRange& range, Loop loop, int from, long steps) noexcept
{
    const long count = static_cast<long>(range.last) - range.first + 1;
    if (count <= 1) return range.first;
    long place = static_cast<long>(from) - range.first;
    if (place < 0 || place >= count) place = steps < 0 ? count - 1 : 0;
    const auto within = [](long at, long period) { return ((at % period) + period) % period; };
    if (loop == Loop::once)
        place = std::clamp(place + steps, 0L, count - 1);
    else if (loop == Loop::round)
        place = within(place + steps, count);
    else {
        const long period = 2 * (count - 1); // there and back
        place = within(place + steps, period);
        if (place >= count) place = period - place;
    }
    return range.first + static_cast<int>(place);
}

std::vector<int> framesAhead(const FrameRange& range, Loop loop, int from, int direction, int count)
{
    std::vector<int> frames;
    std::set<int> seen{from};
    const long most = 2L * (static_cast<long>(range.last) - range.first + 1);
    for (long step = 1; step <= most && static_cast<int>(frames.size()) < count; ++step) {
        const int frame = frameAfter(range, loop, from, direction < 0 ? -step : step);
        if (seen.insert(frame).second) frames.push_back(frame);
    }
    return frames;
}

} // namespace retinex::timeline
