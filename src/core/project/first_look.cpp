#include "core/project/first_look.h"

#include "core/image/reduced.h"

#include <algorithm>
#include <cmath>

namespace retinex::project {

namespace {

depth::ReadingSettings complete(const Settings& settings)
{
    depth::ReadingSettings reading = settings.reading;
    if (reading.reading == depth::Reading::distanceAlongRay && reading.fieldOfViewDeg <= 0.0)
        reading.fieldOfViewDeg = passes::fieldOfViewFor(settings.focalLengthMm, settings.sensorWidthMm);
    return reading;
}

/// The frame's distances, thinned.
depth::DistanceResult thinned(const passes::RawPasses& raw, const depth::ReadingSettings& reading)
{
    constexpr int kEnough = 480;
    const int divisor = std::max(1, raw.stored().width() / kEnough);
    depth::ViewGeometry view = passes::frameViewOf(raw, reading);
    view.frameWidth /= divisor;
    view.frameHeight /= divisor;
    view.left /= divisor;
    view.top /= divisor;
    const Plane<float> stored = picked(raw.stored(), divisor);
    const Plane<float> alpha = picked(raw.colour().plane(3), divisor);
    return depth::toDistance(stored, raw.hasAlpha ? &alpha : nullptr, reading, view);
}

std::vector<float> surfaces(const Plane<float>& distance, const Plane<std::uint8_t>& gaps)
{
    std::vector<float> found;
    for (std::size_t i = 0; i < distance.size(); ++i)
        if (gaps.pixels()[i] == 0 && std::isfinite(distance.pixels()[i]))
            found.push_back(distance.pixels()[i]);
    return found;
}

bool isAlike(double a, double b)
{
    return std::abs(a - b) <= 1e-6 * std::max(std::abs(a), std::abs(b));
}

/// Nobody has set them: they are the range of what was seen, or stand for ends that nobody knows.
bool areProposed(const depth::ReadingSettings& before, const depth::DepthRange& range)
{
    const depth::ReadingSettings usual;
    if (depth::needsEnds(before.reading)) return before.nearest == usual.nearest;
    return (before.nearest == usual.nearest && before.farthest == usual.farthest) ||
           (isAlike(before.nearest, range.nearest) &&
            isAlike(before.farthest, std::max(range.farthest, range.nearest * 1.001)));
}

} // namespace

void calmLens(Settings& settings, const passes::FramePasses& passes, double metresPerUnit)
{
    std::vector<float> distances = surfaces(passes.distance(), passes.gaps());
    if (distances.empty()) return;
    Project project;
    project.metresPerUnit = metresPerUnit;
    const auto medianCoc = [&] {
        project.base() = settings;
        const auto model =
            project.lensSettingsAt(0, passes.raw->pixelAspect).blurModel(passes.distance().width());
        std::vector<double> cocs;
        for (const float d : distances)
            cocs.push_back(2.0 * std::abs(model.radiusPx(static_cast<double>(d))));
        const auto middle = cocs.begin() + static_cast<std::ptrdiff_t>(cocs.size() / 2);
        std::nth_element(cocs.begin(), middle, cocs.end());
        return *middle;
    };
    constexpr std::size_t kEnough = 20'000;
    if (const std::size_t step = distances.size() / kEnough; step > 1) {
        for (std::size_t i = 0; i * step < distances.size(); ++i)
            distances[i] = distances[i * step];
        distances.resize(distances.size() / step);
    }
    if (medianCoc() <= kCalmCocPx) return;
    constexpr double kSmallest = 22.0;
    for (int index = 3; optics::fullStop(index) < kSmallest * 1.05; ++index) {
        settings.fStop = std::round(optics::fullStop(index) * 10.0) / 10.0;
        if (medianCoc() <= kCalmCocPx) return;
    }
    // Distances of no scale: the simple lens has px.
    settings.fStop = Settings{}.fStop;
    const auto [least, most] = std::ranges::minmax(distances);
    settings.simpleLens = defocus::SimpleLens{0.4 * kCalmCocPx, static_cast<double>(least),
                                              std::max<double>(most, 1.001 * static_cast<double>(least))};
    while (medianCoc() > kCalmCocPx)
        settings.simpleLens->radiusPx *= 0.5;
}

std::optional<double> nearestLargeSurface(const Plane<float>& distance, const Plane<std::uint8_t>& gaps)
{
    std::vector<float> found = surfaces(distance, gaps);
    if (found.empty()) return std::nullopt;
    std::sort(found.begin(), found.end());
    constexpr float kOneSurface = 1.08F;
    const std::size_t enough = found.size() / 50;
    std::size_t end = 0;
    for (std::size_t i = 0; i < found.size(); ++i) {
        while (end < found.size() && found[end] <= kOneSurface * found[i])
            ++end;
        if (end - i > enough) return found[(i + end) / 2];
    }
    return found[found.size() / 2];
}

void followReading(Settings& settings, const depth::ReadingSettings& before,
                   const depth::DepthRange& rangeBefore, const passes::RawPasses& raw, double metresPerUnit,
                   const std::optional<Pixel>& clicked, bool movesFocus)
{
    depth::ReadingSettings& reading = settings.reading;
    const bool keepsEnds = !areProposed(before, rangeBefore);
    const bool areEndsOf = depth::needsEnds(reading.reading); // of the reading, not of the view's scale alone
    if (areEndsOf && !depth::needsEnds(before.reading) && !keepsEnds && reading.nearest == before.nearest &&
        reading.farthest == before.farthest) { // those of distances say nothing of a grey
        reading.nearest = depth::ReadingSettings{}.nearest;
        reading.farthest = depth::ReadingSettings{}.farthest;
    }
    const depth::ReadingSettings as = complete(settings);
    const depth::DistanceResult seen = thinned(raw, as);
    if (const auto range = depth::depthRange(seen.distance, seen.gaps);
        !areEndsOf && !keepsEnds && range.hasSurface()) {
        reading.nearest = range.nearest;
        reading.farthest = std::max(range.farthest, range.nearest * 1.001);
    }
    if (!movesFocus) return;
    std::optional<double> focus;
    if (clicked && raw.stored().contains(clicked->x, clicked->y)) {
        const depth::SampleReading sample(as, passes::frameViewOf(raw, as));
        const double d = sample(raw.stored().at(clicked->x, clicked->y), clicked->x, clicked->y);
        if (d > 0.0 && std::isfinite(d)) focus = d;
    }
    if (!focus) focus = nearestLargeSurface(seen.distance, seen.gaps);
    if (focus)
        settings.focusDistance =
            std::max(*focus, nearestFocus(settings.focalLengthMm / (1000.0 * metresPerUnit)));
}

} // namespace retinex::project
