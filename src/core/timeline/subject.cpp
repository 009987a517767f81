#include "core/timeline/subject.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace retinex::timeline {

namespace {

constexpr auto kBefore = [](const auto& item, double frame) { return item.frame < frame; };

/// The neighbours of a frame among items that lie within a range; null where there is none.
template <class T>
std::pair<const T*, const T*> neighbours(const std::vector<T>& items, double frame, const FrameRange& range)
{
    const auto next = std::lower_bound(items.begin(), items.end(), frame, kBefore);
    const T* after = next != items.end() && range.contains(next->frame) ? &*next : nullptr;
    if (after && after->frame == frame) return {after, after};
    const T* before = next != items.begin() && range.contains((next - 1)->frame) ? &*(next - 1) : nullptr;
    return {before, after};
}

Place between(const Place& a, const Place& b, double frame)
{
    const double t = a.frame == b.frame ? 0.0 : (frame - a.frame) / (b.frame - a.frame);
    return {static_cast<int>(std::floor(frame)), a.x + t * (b.x - a.x), a.y + t * (b.y - a.y),
            std::min(a.confidence, b.confidence)};
}

} // namespace

std::optional<Place> placeAt(const Subject& subject, double frame, const FrameRange& shot)
{
    const auto [handBefore, handAfter] = neighbours(subject.places, frame, shot);
    if (handBefore && handBefore == handAfter) return *handBefore;
    const auto [before, after] = neighbours(subject.tracked.items(), frame, shot);
    // A track holds where it is dense; between its end and a place set by hand the way is straight.
    if (before && after && after->frame - before->frame <= 1) return between(*before, *after, frame);
    const Place* from = handBefore;
    if (before && (!from || before->frame > from->frame)) from = before;
    const Place* to = handAfter;
    if (after && (!to || after->frame < to->frame)) to = after;
    if (from && to) return between(*from, *to, frame);
    if (!from && !to) return std::nullopt;
    return from ? *from : *to;
}

std::optional<double> distanceAt(const Subject& subject, double frame) noexcept
{
    const auto& samples = subject.samples.items();
    const auto next = std::lower_bound(samples.begin(), samples.end(), frame, kBefore);
    if (next != samples.end() && next->frame == frame) return next->distance;
    if (next == samples.end() || next == samples.begin()) return std::nullopt;
    const Sample& before = *(next - 1);
    if (next->frame - before.frame > 1) return std::nullopt;
    const double t = frame - before.frame;
    return 1.0 / ((1.0 - t) / before.distance + t / next->distance);
}

const Sample* sampleOn(const Subject& subject, int frame) noexcept
{
    const auto& samples = subject.samples.items();
    const auto it = std::lower_bound(samples.begin(), samples.end(), frame, kBefore);
    return it != samples.end() && it->frame == frame ? &*it : nullptr;
}

void setPlace(Subject& subject, const Place& place)
{
    const auto it = std::lower_bound(subject.places.begin(), subject.places.end(), place.frame, kBefore);
    if (it != subject.places.end() && it->frame == place.frame)
        *it = place;
    else
        subject.places.insert(it, place);
}

void replaceTracked(Subject& subject, const FrameRange& range, const std::vector<Place>& found)
{
    std::vector<Place> kept;
    for (const Place& place : subject.tracked)
        if (!range.contains(place.frame)) kept.push_back(place);
    kept.insert(kept.end(), found.begin(), found.end());
    std::sort(kept.begin(), kept.end(), [](const Place& a, const Place& b) { return a.frame < b.frame; });
    subject.tracked = std::move(kept);
}

} // namespace retinex::timeline
