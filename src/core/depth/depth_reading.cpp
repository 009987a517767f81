#include "core/depth/depth_reading.h"

#include "core/depth/conditioning.h"
#include "core/depth/gap_fill.h"
#include "core/system/error.h"
#include "core/system/say.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace retinex::depth {

namespace {

constexpr double kInfinity = std::numeric_limits<double>::infinity();
/// Ends are kept apart by this share, so that a drag cannot turn the picture over.
constexpr double kLeastGap = 1.001;

constexpr std::array<std::string_view, kReadingCount> kTitles{"distance from camera plane",
                                                              "distance below 0 (camera space)",
                                                              "distance along the ray",
                                                              "reciprocal distance",
                                                              "grey, near is bright",
                                                              "grey, near is dark",
                                                              "clip-space depth"};

/// IEC 61966-2-1, from the encoded to the linear number.
double fromSrgb(double v) noexcept
{
    return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
}
double toSrgb(double v) noexcept
{
    return v <= 0.0031308 ? v * 12.92 : 1.055 * std::pow(v, 1.0 / 2.4) - 0.055;
}

/// 0 at the near end, 1 at the far end, to a distance.
double alongGrey(double t, const ReadingSettings& s) noexcept
{
    if (s.spacing == Spacing::distance) return s.nearest + t * (s.farthest - s.nearest);
    const double reciprocal = (1.0 - t) / s.nearest + t / s.farthest;
    return reciprocal > 0.0 ? 1.0 / reciprocal : kInfinity;
}

double greyOf(double d, const ReadingSettings& s) noexcept
{
    if (s.spacing == Spacing::distance) return (d - s.nearest) / (s.farthest - s.nearest);
    return (1.0 / d - 1.0 / s.nearest) / (1.0 / s.farthest - 1.0 / s.nearest);
}

double clipDistance(double w, const ReadingSettings& s) noexcept
{
    // n f / (f - w (f - n)), divided by f so that f may be infinite.
    const double below = 1.0 - w * (1.0 - s.nearest / s.farthest);
    return below > 0.0 ? s.nearest / below : kInfinity;
}

/// A grey that is even in distance may begin at the camera.
bool mayBeginAtZero(const ReadingSettings& s) noexcept
{
    return isGrey(s.reading) && s.spacing == Spacing::distance;
}

/// What a grey's distances are not nearer than. One that begins at 0 has its black (or white) a little before
/// the camera: far below what its steps can tell, and still a distance.
double leastOfGrey(const ReadingSettings& s) noexcept
{
    constexpr double share = 1e-5; // of the far end; a step of 16 bits is 1.5e-5
    return s.nearest > 0.0 ? 0.0 : share * s.farthest;
}

void requireRange(double value, double low, double high, const char* what)
{
    if (!(value >= low && value <= high))
        throw Error(say("The {} is {:g}; give a number from {:g} to {:g}.", what, value, low, high));
}

bool isGap(float stored, float alpha, const ReadingSettings& settings) noexcept
{
    if (!std::isfinite(stored)) return true;
    if (settings.reading == Reading::distanceBelowZero) stored = -stored;
    const GapRules& rules = settings.gaps;
    if (rules.zero && stored == 0.0F) return true;
    if (rules.outsideAlpha && alpha <= 0.0F) return true;
    if (static_cast<double>(stored) >= rules.from) return true;
    const bool holdsDistance = !needsEnds(settings.reading) && !settings.reversed;
    return holdsDistance && stored < 0.0F;
}

/// Offset, remap and clamp.
float finished(float d, const ReadingSettings& settings)
{
    const Conditioning& mend = settings.conditioning;
    if (mend.offset != 0.0 || !mend.remap.empty())
        d = static_cast<float>(std::max(1e-6, remapped(static_cast<double>(d) + mend.offset, mend.remap)));
    if (settings.clamp)
        d = std::clamp(d, static_cast<float>(settings.nearest), static_cast<float>(settings.farthest));
    return d;
}

void convertRow(float* values, int width, int y, const ReadingSettings& settings, const PlanarShare& share)
{
    const bool alongRay = settings.reading == Reading::distanceAlongRay;
    for (int x = 0; x < width; ++x) {
        double d = distanceOf(static_cast<double>(values[x]), settings);
        if (alongRay) d *= share(x, y);
        values[x] = static_cast<float>(d);
    }
}

} // namespace

std::string_view title(Reading reading) noexcept
{
    return kTitles[static_cast<std::size_t>(reading)];
}
bool isGrey(Reading reading) noexcept
{
    return reading == Reading::greyNearBright || reading == Reading::greyNearDark;
}
bool needsEnds(Reading reading) noexcept
{
    return isGrey(reading) || reading == Reading::clipSpace;
}
void ReadingSettings::check() const
{
    if (nearest == 0.0 && !mayBeginAtZero(*this))
        throw Error(
            say("The nearest distance is 0, which only a grey that is even in distance can begin at. Give a "
                "number above 0."));
    if (nearest != 0.0) requireRange(nearest, 1e-9, 1e12, "nearest distance");
    if (nearest == 0.0 && std::isinf(farthest))
        throw Error(say("A grey from 0 needs a farthest distance that is not infinite."));
    if (!(farthest > nearest))
        throw Error(say("The farthest distance ({:g}) must be beyond the nearest ({:g}). Exchange "
                        "them, or reverse the reading.",
                        farthest, nearest));
    if (!(storedHigh > storedLow))
        throw Error(say("The stored numbers of the two ends are {:g} and {:g}; the second must be "
                        "the larger.",
                        storedLow, storedHigh));
    requireRange(fieldOfViewDeg, 0.0, 179.0, "field of view (degrees)");
    requireRange(gaps.distance, 1e-9, kInfinity, "distance of gaps");
    requireRange(conditioning.softenPx, 0.0, 64.0, "softening (px)");
    requireRange(conditioning.smoothLevels, 0, 65535, "number of grey levels to smooth");
    requireRange(conditioning.offset, -1e12, 1e12, "offset of distances");
    for (std::size_t i = 0; i < conditioning.remap.size(); ++i) {
        const auto& [from, to] = conditioning.remap[i];
        const bool rising =
            i == 0 || (from > conditioning.remap[i - 1].first && to >= conditioning.remap[i - 1].second);
        if (!(from > 0.0) || !(to > 0.0) || !rising || !std::isfinite(from) || !std::isfinite(to))
            throw Error(say("The remap curve must rise: give distances above 0 in growing order."));
    }
}

std::vector<std::string> ReadingSettings::reconcile()
{
    std::vector<std::string> said;
    if (!(storedHigh > storedLow)) {
        said.push_back(say("the stored numbers of the two ends, {:g} and {:g}, do not rise: they are {}",
                           storedLow, storedHigh, storedHigh < storedLow ? "exchanged" : "moved apart"));
        if (storedHigh < storedLow)
            std::swap(storedLow, storedHigh);
        else
            storedHigh = storedLow + std::max(1.0, std::abs(storedLow));
    }
    if (nearest == 0.0 && std::isinf(farthest)) {
        said.push_back(say("a grey from 0 cannot end at infinity: farthest is {:g}", 1000.0));
        farthest = 1000.0;
    }
    if (!(farthest > nearest)) {
        said.push_back(say("farthest, {:g}, is not beyond nearest, {:g}: they are {}", farthest, nearest,
                           farthest < nearest ? "exchanged" : "moved apart"));
        if (farthest < nearest) std::swap(nearest, farthest);
        if (!(farthest > nearest)) farthest = nearest > 0.0 ? nearest * kLeastGap : 1.0;
    }
    if (nearest == 0.0 && !mayBeginAtZero(*this)) {
        nearest = std::isinf(farthest) ? 1.0 : 1e-3 * farthest;
        said.push_back(say("only a grey that is even in distance can begin at 0: nearest is {:g}", nearest));
    }
    try {
        check();
    } catch (const Error&) { // what is left is the curve
        said.push_back(say("the remap curve does not rise: it is left out"));
        conditioning.remap.clear();
    }
    return said;
}

void reverse(ReadingSettings& settings) noexcept
{
    switch (settings.reading) {
    case Reading::greyNearBright:
        settings.reading = Reading::greyNearDark;
        return;
    case Reading::greyNearDark:
        settings.reading = Reading::greyNearBright;
        return;
    case Reading::clipSpace:
        if (settings.clipRange != ClipRange::minusOneToOne) {
            settings.clipRange =
                settings.clipRange == ClipRange::zeroToOne ? ClipRange::oneToZero : ClipRange::zeroToOne;
            return;
        }
        [[fallthrough]];
    default:
        settings.reversed = !settings.reversed;
    }
}

ReadingSettings handMadeReading() noexcept
{
    ReadingSettings settings;
    settings.gaps.place = GapRules::Place::distance;
    settings.gaps.distance = 10.0;
    return settings;
}

ReadingSettings essential(ReadingSettings settings) noexcept
{
    if (!needsEnds(settings.reading) && !settings.clamp) {
        settings.nearest = ReadingSettings{}.nearest;
        settings.farthest = ReadingSettings{}.farthest;
    }
    return settings;
}

void setNearest(ReadingSettings& settings, double distance) noexcept
{
    const double least = distance <= 0.0 && mayBeginAtZero(settings) ? 0.0 : 1e-9;
    settings.nearest = std::clamp(distance, least, settings.farthest / kLeastGap);
}

void setFarthest(ReadingSettings& settings, double distance) noexcept
{
    settings.farthest = std::max(distance, settings.nearest * kLeastGap);
}

PlanarShare::PlanarShare(const ViewGeometry& view) noexcept
    : m_middleX(view.left + 0.5 * view.frameWidth - 0.5), m_middleY(view.top + 0.5 * view.frameHeight - 0.5),
      m_perPixelX(2.0 * std::tan(0.5 * view.fieldOfViewDeg * std::numbers::pi / 180.0) / view.frameWidth),
      m_perPixelY(m_perPixelX / view.pixelAspect)
{
}

double distanceOf(double stored, const ReadingSettings& s) noexcept
{
    double v = s.encoding == Encoding::sRgb ? fromSrgb(stored) : stored;
    if (s.reversed) v = s.storedLow + s.storedHigh - v;
    switch (s.reading) {
    case Reading::distanceBelowZero:
        return -v;
    case Reading::reciprocalDistance:
        return v > 0.0 ? 1.0 / v : kInfinity;
    case Reading::greyNearBright:
        return std::max(leastOfGrey(s), alongGrey((s.storedHigh - v) / (s.storedHigh - s.storedLow), s));
    case Reading::greyNearDark:
        return std::max(leastOfGrey(s), alongGrey((v - s.storedLow) / (s.storedHigh - s.storedLow), s));
    case Reading::clipSpace:
        return clipDistance(s.clipRange == ClipRange::minusOneToOne ? 0.5 * (v + 1.0)
                            : s.clipRange == ClipRange::oneToZero   ? 1.0 - v
                                                                    : v,
                            s);
    default:
        return v;
    }
}

double storedOf(double d, const ReadingSettings& s) noexcept
{
    double v = d;
    if (s.reading == Reading::distanceBelowZero) {
        v = -d;
    } else if (s.reading == Reading::reciprocalDistance) {
        v = 1.0 / d;
    } else if (s.reading == Reading::greyNearBright) {
        v = s.storedHigh - greyOf(d, s) * (s.storedHigh - s.storedLow);
    } else if (s.reading == Reading::greyNearDark) {
        v = s.storedLow + greyOf(d, s) * (s.storedHigh - s.storedLow);
    } else if (s.reading == Reading::clipSpace) {
        const double w = (1.0 - s.nearest / d) / (1.0 - s.nearest / s.farthest);
        v = s.clipRange == ClipRange::minusOneToOne ? 2.0 * w - 1.0
            : s.clipRange == ClipRange::oneToZero   ? 1.0 - w
                                                    : w;
    }
    if (s.reversed) v = s.storedLow + s.storedHigh - v;
    return s.encoding == Encoding::sRgb ? toSrgb(v) : v;
}

Plane<std::uint8_t> gapMask(const Plane<float>& stored, const Plane<float>* alpha,
                            const ReadingSettings& settings)
{
    Plane<std::uint8_t> mask(stored.width(), stored.height());
    for (std::size_t i = 0; i < stored.size(); ++i)
        mask.pixels()[i] = isGap(stored.pixels()[i], alpha ? alpha->pixels()[i] : 1.0F, settings) ? 1 : 0;
    return mask;
}

float SampleReading::operator()(float stored, int x, int y) const noexcept
{
    constexpr float far = std::numeric_limits<float>::infinity();
    const bool hasPlace = m_settings.gaps.place == GapRules::Place::distance;
    const float none = hasPlace ? static_cast<float>(m_settings.gaps.distance) : far;
    if (isGap(stored, 1.0F, m_settings)) return none;
    double d = distanceOf(static_cast<double>(stored), m_settings);
    if (m_settings.reading == Reading::distanceAlongRay) d *= m_share(x, y);
    if (!(d > 0.0 && std::isfinite(d))) return none;
    return finished(static_cast<float>(d), m_settings);
}

DistanceResult toDistance(const Plane<float>& stored, const Plane<float>* alpha,
                          const ReadingSettings& settings, const ViewGeometry& view, const Run& run)
{
    const Conditioning& mend = settings.conditioning;
    Plane<float> values = mend.snapEdges ? snapped(stored, run) : stored;
    DistanceResult result;
    result.gaps = gapMask(values, alpha, settings);
    if (mend.smoothLevels > 0) values = smoothedSteps(values, result.gaps, 1.0 / mend.smoothLevels, run);
    const PlanarShare share(view);
    parallelFor(values.height(), {run.threads, {}, run.stop},
                [&](int y) { convertRow(values.row(y), values.width(), y, settings, share); });
    // A number without a finite answer (1/0, beyond the far plane) is as good as none.
    for (std::size_t i = 0; i < values.size(); ++i) {
        float& d = values.pixels()[i];
        if (result.gaps.pixels()[i] == 0 && !(d > 0.0F && std::isfinite(d))) result.gaps.pixels()[i] = 1;
        if (result.gaps.pixels()[i] != 0) d = std::numeric_limits<float>::infinity();
    }
    if (mend.softenPx > 0.0) values = softened(values, mend.softenPx, run);
    for (std::size_t i = 0; i < values.size(); ++i)
        if (result.gaps.pixels()[i] == 0) values.pixels()[i] = finished(values.pixels()[i], settings);
    result.distance = std::move(values);
    result.gapCount = placeGaps(result.distance, result.gaps, settings.gaps);
    return result;
}

DistanceResult toDistance(const Plane<float>& stored)
{
    const ViewGeometry view{static_cast<double>(stored.width()), static_cast<double>(stored.height())};
    return toDistance(stored, nullptr, {}, view);
}

} // namespace retinex::depth
