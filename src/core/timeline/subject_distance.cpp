#include "core/timeline/subject_distance.h"

#include "core/optics/outline.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace retinex::timeline {

namespace {

constexpr double kNewSurface = 0.04;  ///< step in ln(distance) that parts two surfaces
constexpr double kJump = 0.1;         ///< in ln(distance) from one frame to the next
constexpr double kFurtherJump = 0.02; ///< more of it for each frame that the subject was hidden
constexpr int kMovesOn = 6;           ///< frames that a hidden subject is taken to move on as it did
constexpr double kFewest = 0.05;      ///< share of the pixels that a surface needs to be followed

struct Extent
{
    double left, top, right, bottom;
};

Extent extentOf(const Subject& subject)
{
    if (subject.outline.size() < 3)
        return {-subject.radiusPx, -subject.radiusPx, subject.radiusPx, subject.radiusPx};
    Extent extent{0.0, 0.0, 0.0, 0.0};
    for (const auto& corner : subject.outline) {
        extent.left = std::min(extent.left, corner.x);
        extent.right = std::max(extent.right, corner.x);
        extent.top = std::min(extent.top, corner.y);
        extent.bottom = std::max(extent.bottom, corner.y);
    }
    return extent;
}

struct Found
{
    float distance;
    double fromMiddle; ///< px, squared
};

std::vector<Found> pixelsUnder(const Subject& subject, const Place& place, const Plane<float>& distance,
                               const Plane<std::uint8_t>& gaps)
{
    const Extent extent = extentOf(subject);
    const auto from = [](double value) { return static_cast<int>(std::floor(value)); };
    const bool isDisc = subject.outline.size() < 3;
    const double reach = std::max(0.75, subject.radiusPx); // a point is one pixel
    std::vector<Found> found;
    for (int y = std::max(0, from(place.y + extent.top));
         y < distance.height() && y <= place.y + extent.bottom; ++y)
        for (int x = std::max(0, from(place.x + extent.left));
             x < distance.width() && x <= place.x + extent.right; ++x) {
            const double dx = x + 0.5 - place.x;
            const double dy = y + 0.5 - place.y;
            if (isDisc ? dx * dx + dy * dy > reach * reach : !optics::isInside(subject.outline, dx, dy))
                continue;
            const float z = distance.at(x, y);
            if (gaps.at(x, y) == 0 && z > 0.0F && std::isfinite(z)) found.push_back({z, dx * dx + dy * dy});
        }
    return found;
}

/// Where a subject goes on, frame by frame, in one direction of time.
class Follower
{
public:
    /// Nothing where the subject is hidden.
    std::optional<double> next(const FrameSight& sight)
    {
        const SurfaceUnder* chosen = nullptr;
        for (const auto& surface : sight.surfaces) {
            if (sight.isAnchor || !m_last) {
                if (surface.isMiddle) chosen = &surface;
                continue;
            }
            if (surface.share < kFewest && !surface.isMiddle) continue;
            const double off = std::abs(std::log(surface.distance / expected()));
            if (off > kJump + kFurtherJump * m_hiddenFrames) continue;
            if (!chosen || off < std::abs(std::log(chosen->distance / expected()))) chosen = &surface;
        }
        if (!chosen) {
            ++m_hiddenFrames;
            return std::nullopt;
        }
        m_step =
            m_last && m_hiddenFrames == 0 && !sight.isAnchor ? std::log(chosen->distance / *m_last) : 0.0;
        m_last = chosen->distance;
        m_hiddenFrames = 0;
        return chosen->distance;
    }

private:
    /// It moves on as it did before, for a while.
    [[nodiscard]] double expected() const
    {
        return *m_last * std::exp(m_step * std::min(1 + m_hiddenFrames, kMovesOn));
    }

    std::optional<double> m_last;
    double m_step = 0.0;
    int m_hiddenFrames = 0;
};

void fillHidden(std::vector<Sample>& samples, bool bridges)
{
    for (std::size_t i = 0; i < samples.size();) {
        if (samples[i].sight == Sight::measured) {
            ++i;
            continue;
        }
        std::size_t end = i;
        while (end < samples.size() && samples[end].sight != Sight::measured)
            ++end;
        for (std::size_t k = i; k < end; ++k) {
            Sample& sample = samples[k];
            sample.sight = bridges ? Sight::bridged : Sight::hidden;
            if (i == 0 || end == samples.size() || !bridges) {
                sample.distance = i > 0 ? samples[i - 1].distance : samples[end].distance;
                continue;
            }
            const double t = static_cast<double>(k - i + 1) / static_cast<double>(end - i + 1);
            sample.distance = 1.0 / ((1.0 - t) / samples[i - 1].distance + t / samples[end].distance);
        }
        i = end;
    }
}

} // namespace

std::vector<SurfaceUnder> surfacesUnder(const Subject& subject, const Place& place,
                                        const Plane<float>& distance, const Plane<std::uint8_t>& gaps)
{
    std::vector<Found> found = pixelsUnder(subject, place, distance, gaps);
    if (found.empty()) return {};
    std::sort(found.begin(), found.end(),
              [](const Found& a, const Found& b) { return a.distance < b.distance; });
    std::vector<SurfaceUnder> surfaces;
    double nearestToMiddle = std::numeric_limits<double>::infinity();
    std::size_t middle = 0;
    const double step = std::exp(kNewSurface);
    for (std::size_t begin = 0; begin < found.size();) {
        std::size_t end = begin + 1;
        while (end < found.size() && found[end].distance <= found[end - 1].distance * step)
            ++end;
        for (std::size_t i = begin; i < end; ++i)
            if (found[i].fromMiddle < nearestToMiddle) {
                nearestToMiddle = found[i].fromMiddle;
                middle = surfaces.size();
            }
        const std::size_t count = end - begin;
        const double upper = found[begin + count / 2].distance;
        const double median = count % 2 == 1 ? upper : 0.5 * (upper + found[begin + count / 2 - 1].distance);
        surfaces.push_back({median, static_cast<double>(count) / static_cast<double>(found.size()), false});
        begin = end;
    }
    surfaces[middle].isMiddle = true;
    return surfaces;
}

std::vector<Sample> followDistance(const std::vector<FrameSight>& sights, bool bridgesHidden)
{
    if (sights.empty()) return {};
    std::size_t start = 0; // without a place set by hand, the first frame that shows something
    while (start < sights.size() && !sights[start].isAnchor)
        ++start;
    if (start == sights.size())
        for (start = 0; start < sights.size() && sights[start].surfaces.empty();)
            ++start;
    std::vector<Sample> samples;
    for (const FrameSight& sight : sights)
        samples.push_back({sight.frame, 0.0, Sight::hidden});
    const auto take = [&](Follower& follower, std::size_t i) {
        if (const auto distance = follower.next(sights[i])) samples[i] = {sights[i].frame, *distance};
    };
    Follower forward;
    for (std::size_t i = start; i < sights.size(); ++i)
        take(forward, i);
    if (start < sights.size()) {
        Follower back;
        for (std::size_t i = start + 1; i-- > 0;)
            take(back, i);
    }
    if (std::none_of(samples.begin(), samples.end(),
                     [](const Sample& sample) { return sample.sight == Sight::measured; }))
        return {};
    fillHidden(samples, bridgesHidden);
    return samples;
}

} // namespace retinex::timeline
