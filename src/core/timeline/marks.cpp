#include "core/timeline/marks.h"

#include <algorithm>
#include <array>

namespace retinex::timeline {

namespace {

constexpr std::array<std::string_view, 3> kEaseNames{"smooth", "linear", "hold"};

double eased(Ease ease, double t)
{
    switch (ease) {
    case Ease::hold:
        return 0.0;
    case Ease::smooth:
        return t * t * (3.0 - 2.0 * t);
    default:
        return t;
    }
}

auto firstNotBefore(auto& marks, double frame)
{
    return std::lower_bound(marks.begin(), marks.end(), frame,
                            [](const Mark& mark, double f) { return mark.frame < f; });
}

} // namespace

std::string_view name(Ease ease) noexcept
{
    return kEaseNames[static_cast<std::size_t>(ease)];
}

std::optional<Ease> easeFromName(std::string_view text) noexcept
{
    const auto it = std::find(kEaseNames.begin(), kEaseNames.end(), text);
    if (it == kEaseNames.end()) return std::nullopt;
    return static_cast<Ease>(it - kEaseNames.begin());
}

std::optional<double> distanceAt(const Marks& marks, double frame)
{
    if (marks.empty()) return std::nullopt;
    const auto next = firstNotBefore(marks, frame);
    if (next == marks.begin()) return marks.front().distance;
    if (next == marks.end()) return marks.back().distance;
    if (next->frame == frame) return next->distance;
    const Mark& before = *(next - 1);
    const double t = eased(before.ease, (frame - before.frame) / (next->frame - before.frame));
    if (t == 0.0) return before.distance;
    return 1.0 / ((1.0 - t) / before.distance + t / next->distance);
}

void setMark(Marks& marks, const Mark& mark)
{
    const auto it = firstNotBefore(marks, mark.frame);
    if (it != marks.end() && it->frame == mark.frame)
        *it = mark;
    else
        marks.insert(it, mark);
}

bool removeMark(Marks& marks, int frame)
{
    return std::erase_if(marks, [frame](const Mark& mark) { return mark.frame == frame; }) > 0;
}

const Mark* markOn(const Marks& marks, int frame)
{
    const auto it = firstNotBefore(marks, frame);
    return it != marks.end() && it->frame == frame ? &*it : nullptr;
}

} // namespace retinex::timeline
