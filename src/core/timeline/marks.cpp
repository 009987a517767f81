#include "core/timeline/marks.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace retinex::timeline {

namespace {

constexpr double kInfinity = std::numeric_limits<double>::infinity();

auto firstNotBefore(auto& marks, double frame)
{
    return std::lower_bound(marks.begin(), marks.end(), frame,
                            [](const Mark& mark, double f) { return mark.frame < f; });
}

double mixed(double from, double to, double progress)
{
    return from + progress * (to - from);
}

double inDioptres(double from, double to, double progress)
{
    const double dioptres = mixed(1.0 / from, 1.0 / to, progress);
    return dioptres > 0.0 ? 1.0 / dioptres : kInfinity;
}

/// f s / (s - f), f at infinity.
double imageDistance(double distance, double focalLength)
{
    return focalLength / (1.0 - focalLength / distance);
}

double evenBlur(double from, double to, double progress, double focalLength)
{
    if (!(focalLength > 0.0) || from <= focalLength || to <= focalLength)
        return inDioptres(from, to, progress); // inside the lens: no image distance
    const double image = mixed(imageDistance(from, focalLength), imageDistance(to, focalLength), progress);
    return image > focalLength ? focalLength / (1.0 - focalLength / image) : kInfinity;
}

} // namespace

double blended(Blend blend, double from, double to, double progress, double focalLength) noexcept
{
    // The ends are exact, whatever rounding the way there has.
    if (progress == 0.0 || from == to) return from;
    if (progress == 1.0) return to;
    switch (blend) {
    case Blend::plain:
        return mixed(from, to, progress);
    case Blend::ratio:
        return from * std::pow(to / from, progress);
    case Blend::distance:
        if (!std::isinf(from) && !std::isinf(to)) {
            const double distance = mixed(from, to, progress);
            // A curve that may overshoot stays in front of the camera.
            return std::max(distance, 1e-3 * std::min(from, to));
        }
        return inDioptres(from, to, progress);
    case Blend::dioptre:
        return inDioptres(from, to, progress);
    default:
        return evenBlur(from, to, progress, focalLength);
    }
}

double shareOfWay(Blend blend, double from, double to, double value, double focalLength) noexcept
{
    const auto share = [](double a, double b, double v) { return a == b ? 0.0 : (v - a) / (b - a); };
    switch (blend) {
    case Blend::plain:
        return share(from, to, value);
    case Blend::ratio:
        return share(std::log(from), std::log(to), std::log(value));
    case Blend::distance:
        if (!std::isinf(from) && !std::isinf(to)) return share(from, to, value);
        break;
    case Blend::evenBlur:
        if (focalLength > 0.0 && std::min({from, to, value}) > focalLength)
            return share(imageDistance(from, focalLength), imageDistance(to, focalLength),
                         imageDistance(value, focalLength));
        break;
    default:
        break;
    }
    return share(1.0 / from, 1.0 / to, 1.0 / value);
}

std::optional<Pull> pullAt(const Marks& marks, double frame) noexcept
{
    if (marks.empty()) return std::nullopt;
    const auto next = firstNotBefore(marks, frame);
    if (next == marks.begin()) return Pull{&marks.front(), &marks.front(), 0.0};
    if (next == marks.end()) return Pull{&marks.back(), &marks.back(), 0.0};
    if (next->frame == frame) return Pull{&*next, &*next, 0.0};
    const Mark& before = *(next - 1);
    return Pull{
        &before, &*next,
        progress(before.leaving, next->arriving, (frame - before.frame) / (next->frame - before.frame))};
}

std::optional<double> valueAt(const Marks& marks, double frame, Blend blend) noexcept
{
    const auto pull = pullAt(marks, frame);
    if (!pull) return std::nullopt;
    return blended(blend, pull->from->value, pull->to->value, pull->progress);
}

std::optional<double> focusAt(const Marks& marks, double frame, double focalLength,
                              const SubjectDistance& subjects) noexcept
{
    const auto pull = pullAt(marks, frame);
    if (!pull) return std::nullopt;
    const auto distanceOf = [&](const Mark& mark) {
        return mark.isBound() ? subjects(mark.subject, frame).value_or(mark.value) : mark.value;
    };
    const double from = distanceOf(*pull->from);
    if (pull->from == pull->to) return from;
    return blended(pull->from->blend, from, distanceOf(*pull->to), pull->progress, focalLength);
}

void setMark(Marks& marks, const Mark& mark)
{
    const auto it = firstNotBefore(marks, mark.frame);
    if (it != marks.end() && it->frame == mark.frame)
        *it = mark;
    else
        marks.insert(it, mark);
}

void insertMark(Marks& marks, int frame, double value)
{
    if (markOn(marks, frame)) return;
    Mark mark{frame, value};
    const auto next = firstNotBefore(marks, frame);
    if (next != marks.begin() && next != marks.end()) {
        Mark& before = *(next - 1);
        const double t = static_cast<double>(frame - before.frame) / (next->frame - before.frame);
        mark.blend = before.blend;
        if (before.leaving.ease == Ease::hold || before.subject == next->subject)
            mark.subject = before.subject;
        const SplitSides sides = splitAt(before.leaving, next->arriving, t);
        before.leaving = sides.leaving;
        mark.arriving = sides.arriving;
        mark.leaving = sides.onward;
        next->arriving = sides.arrivingAtEnd;
    } else if (!marks.empty()) {
        const Mark& held = next == marks.end() ? marks.back() : marks.front();
        mark.subject = held.subject;
        mark.blend = held.blend;
    }
    marks.insert(next, mark);
}

bool removeMark(Marks& marks, int frame)
{
    return std::erase_if(marks, [frame](const Mark& mark) { return mark.frame == frame; }) > 0;
}

const Mark* markOn(const Marks& marks, int frame) noexcept
{
    const auto it = firstNotBefore(marks, frame);
    return it != marks.end() && it->frame == frame ? &*it : nullptr;
}

} // namespace retinex::timeline
