#include "bench/reading_trials.h"

#include "core/depth/conditioning.h"
#include "core/passes/scene/camera_data.h"
#include "reference/scenes.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <half.h>
#include <limits>

namespace retinex::bench {

namespace {

using depth::Reading;
using depth::Spacing;

constexpr float kInfinity = std::numeric_limits<float>::infinity();

/// Planar distances of one traced scene; 0 in gaps.
struct Traced
{
    Plane<float> distance;
    Plane<float> antiAliased; ///< mean over 4 x 4 rays, gaps counted as 0
    Plane<float> fine;        ///< four times the size
    Plane<float> alpha;
    double fieldOfViewDeg = 40.0;
    double nearest = 0.0;
    double farthest = 0.0;
};

Traced trace(const std::string& scene, int width)
{
    reference::Trial trial = reference::makeTrial(scene);
    Traced traced;
    trial.camera.width = width;
    trial.camera.height = width * 9 / 16;
    auto passes = reference::renderPasses(trial.scene, trial.camera, 16);
    traced.distance = std::move(passes.depth);
    traced.alpha = std::move(passes.colour.plane(3));
    trial.camera.width *= 4;
    trial.camera.height *= 4;
    traced.fine = reference::renderPasses(trial.scene, trial.camera, 0).depth;
    const Plane<float>& fine = traced.fine;
    traced.antiAliased = Plane<float>(traced.distance.width(), traced.distance.height());
    for (int y = 0; y < fine.height(); ++y)
        for (int x = 0; x < fine.width(); ++x)
            if (traced.antiAliased.contains(x / 4, y / 4))
                traced.antiAliased.at(x / 4, y / 4) += fine.at(x, y) / 16.0F;
    traced.fieldOfViewDeg = passes::fieldOfViewFor(trial.camera.focalLengthMm, trial.camera.sensorWidthMm);
    traced.nearest = 1e9;
    for (const float d : traced.distance.pixels()) {
        if (d <= 0.0F) continue;
        traced.nearest = std::min<double>(traced.nearest, d);
        traced.farthest = std::max<double>(traced.farthest, d);
    }
    return traced;
}

float quantised(double v, int levels)
{
    return static_cast<float>(std::round(std::clamp(v, 0.0, 1.0) * levels) / levels);
}

float asHalf(double v)
{
    return static_cast<float>(half(static_cast<float>(v)));
}

struct Convention
{
    const char* name;
    Reading reading;
    Spacing spacing;
    bool withAlpha;
    bool antiAliased;
    /// Stored number of a distance at a pixel; NaN distance stands for a gap.
    std::function<float(double d, const Traced&, int x, int y)> store;
};

/// t of a grey, 0 near to 1 far, with the ends a little beyond what is seen, as artists set them.
double grey(double d, const Traced& t, Spacing spacing)
{
    const double n = 0.95 * t.nearest;
    const double f = 1.05 * t.farthest;
    return spacing == Spacing::distance ? (d - n) / (f - n) : (1.0 / d - 1.0 / n) / (1.0 / f - 1.0 / n);
}

double alongRay(double d, const Traced& t, int x, int y)
{
    depth::ViewGeometry view{static_cast<double>(t.distance.width()),
                             static_cast<double>(t.distance.height())};
    view.fieldOfViewDeg = t.fieldOfViewDeg;
    return d / depth::PlanarShare(view)(x, y);
}

double clip(double d)
{
    constexpr double n = 0.1;
    constexpr double f = 100.0;
    return (1.0 - n / d) / (1.0 - n / f);
}

std::vector<Convention> conventions()
{
    const auto gapOr = [](double d, float gap, auto value) {
        return std::isnan(d) ? gap : static_cast<float>(value());
    };
    std::vector<Convention> all;
    const auto add = [&](const char* name, Reading reading, Spacing spacing, bool alpha, bool aa,
                         auto store) {
        all.push_back({name, reading, spacing, alpha, aa, store});
    };
    constexpr auto even = Spacing::distance;
    constexpr auto reciprocal = Spacing::reciprocal;
    const auto plane = Reading::distanceFromCameraPlane;
    add("distance, float, gaps 0", plane, even, true, false,
        [=](double d, const Traced&, int, int) { return gapOr(d, 0.0F, [&] { return d; }); });
    add("distance, half, gaps infinite", plane, even, true, false,
        [=](double d, const Traced&, int, int) { return gapOr(d, kInfinity, [&] { return asHalf(d); }); });
    add("distance, float, gaps 1e10, no alpha", plane, even, false, false,
        [=](double d, const Traced&, int, int) { return gapOr(d, 1e10F, [&] { return d; }); });
    add("distance in cm, float, gaps 0, no alpha", plane, even, false, false,
        [=](double d, const Traced&, int, int) { return gapOr(d, 0.0F, [&] { return 100.0 * d; }); });
    add("distance, anti-aliased, gaps 0", plane, even, true, true,
        [=](double d, const Traced&, int, int) { return gapOr(d, 0.0F, [&] { return d; }); });
    add("distance along the ray, float, gaps 0", Reading::distanceAlongRay, even, true, false,
        [=](double d, const Traced& t, int x, int y) {
            return gapOr(d, 0.0F, [&] { return alongRay(d, t, x, y); });
        });
    add("distance along the ray, half, gaps 65504", Reading::distanceAlongRay, even, false, false,
        [=](double d, const Traced& t, int x, int y) {
            return gapOr(d, 65504.0F, [&] { return asHalf(alongRay(d, t, x, y)); });
        });
    add("reciprocal of mm, float, gaps 0", Reading::reciprocalDistance, even, true, false,
        [=](double d, const Traced&, int, int) {
            return gapOr(d, 0.0F, [&] { return 1.0 / (1000.0 * d); });
        });
    add("near bright, 8-bit, gaps black", Reading::greyNearBright, even, true, false,
        [=](double d, const Traced& t, int, int) {
            return gapOr(d, 0.0F, [&] { return quantised(1.0 - grey(d, t, even), 255); });
        });
    add("near bright, 16-bit, no alpha", Reading::greyNearBright, even, false, false,
        [=](double d, const Traced& t, int, int) {
            return gapOr(d, 0.0F, [&] { return quantised(1.0 - grey(d, t, even), 65535); });
        });
    add("near dark, 8-bit, gaps white", Reading::greyNearDark, even, true, false,
        [=](double d, const Traced& t, int, int) {
            return gapOr(d, 1.0F, [&] { return quantised(grey(d, t, even), 255); });
        });
    add("near dark, 16-bit, gaps white, no alpha", Reading::greyNearDark, even, false, false,
        [=](double d, const Traced& t, int, int) {
            return gapOr(d, 1.0F, [&] { return quantised(grey(d, t, even), 65535); });
        });
    add("near bright in 1/distance, 8-bit", Reading::greyNearBright, reciprocal, true, false,
        [=](double d, const Traced& t, int, int) {
            return gapOr(d, 0.0F, [&] { return quantised(1.0 - grey(d, t, reciprocal), 255); });
        });
    add("near dark in 1/distance, 8-bit", Reading::greyNearDark, reciprocal, true, false,
        [=](double d, const Traced& t, int, int) {
            return gapOr(d, 1.0F, [&] { return quantised(grey(d, t, reciprocal), 255); });
        });
    add("near bright in 1/distance, 16-bit", Reading::greyNearBright, reciprocal, true, false,
        [=](double d, const Traced& t, int, int) {
            return gapOr(d, 0.0F, [&] { return quantised(1.0 - grey(d, t, reciprocal), 65535); });
        });
    add("clip space, float, gaps 1", Reading::clipSpace, reciprocal, true, false,
        [=](double d, const Traced&, int, int) { return gapOr(d, 1.0F, [&] { return clip(d); }); });
    add("clip space, float, gaps 1, no alpha", Reading::clipSpace, reciprocal, false, false,
        [=](double d, const Traced&, int, int) { return gapOr(d, 1.0F, [&] { return clip(d); }); });
    return all;
}

const std::vector<std::string>& scenesOf(bool heldOut)
{
    static const std::vector<std::string> tuned{
        "bars, focus behind", "stalks", "lights", "grass", "greenhouse, can", "greenhouse, stems", "shelf"};
    static const std::vector<std::string> held{"corner of a room", "street", "steps"};
    return heldOut ? held : tuned;
}

const char* familyOf(Reading reading, Spacing spacing)
{
    return depth::isGrey(reading) && spacing == Spacing::reciprocal ? ", in 1/distance" : "";
}

} // namespace

depth::ReadingProposal ReadingTrial::propose() const
{
    const Plane<float>* given = alpha.empty() ? nullptr : &alpha;
    return depth::proposeReading(stored, given, depth::statisticsOf(stored, given));
}

bool ReadingTrial::agrees(const depth::ReadingSettings& settings) const
{
    if (settings.reversed) return false;
    const auto isClip = [](Reading r, Spacing s) {
        return r == Reading::clipSpace || (r == Reading::greyNearDark && s == Spacing::reciprocal);
    };
    if (isClip(reading, spacing))
        return isClip(settings.reading, settings.spacing) &&
               settings.clipRange != depth::ClipRange::oneToZero;
    return settings.reading == reading && (!depth::isGrey(reading) || settings.spacing == spacing);
}

std::vector<ReadingTrial> readingTrials(bool heldOut, int width)
{
    std::vector<ReadingTrial> trials;
    for (const std::string& scene : scenesOf(heldOut)) {
        const Traced traced = trace(scene, width);
        for (const Convention& convention : conventions()) {
            ReadingTrial trial;
            trial.scene = scene;
            trial.convention = convention.name;
            trial.heldOut = heldOut;
            trial.reading = convention.reading;
            trial.spacing = convention.spacing;
            if (convention.withAlpha) trial.alpha = traced.alpha;
            trial.stored = Plane<float>(traced.distance.width(), traced.distance.height());
            const Plane<float>& from = convention.antiAliased ? traced.antiAliased : traced.distance;
            for (int y = 0; y < from.height(); ++y)
                for (int x = 0; x < from.width(); ++x) {
                    const double d = from.at(x, y) > 0.0F ? static_cast<double>(from.at(x, y))
                                                          : std::numeric_limits<double>::quiet_NaN();
                    trial.stored.at(x, y) = convention.store(d, traced, x, y);
                }
            trials.push_back(std::move(trial));
        }
    }
    return trials;
}

const std::vector<std::string>& readingScenes(bool heldOut)
{
    return scenesOf(heldOut);
}

MendScore mendScore(const std::string& scene, int width)
{
    const Traced traced = trace(scene, width);
    MendScore score;
    // Pixels whose 16 rays differ by more than 5 %: there the mean lies on no surface, or by luck.
    const auto onSurface = [&](const Plane<float>& depth, int x, int y) {
        for (int sy = std::max(0, 4 * y - 4); sy < std::min(traced.fine.height(), 4 * y + 8); ++sy)
            for (int sx = std::max(0, 4 * x - 4); sx < std::min(traced.fine.width(), 4 * x + 8); ++sx)
                if (std::abs(traced.fine.at(sx, sy) - depth.at(x, y)) <= 0.01F * depth.at(x, y)) return true;
        return false;
    };
    const Plane<float> snapped = depth::snapped(traced.antiAliased);
    std::size_t edges = 0;
    std::size_t before = 0;
    std::size_t after = 0;
    for (int y = 0; y < snapped.height(); ++y)
        for (int x = 0; x < snapped.width(); ++x) {
            float low = traced.fine.at(4 * x, 4 * y);
            float high = low;
            for (int i = 0; i < 16; ++i) {
                const float d = traced.fine.at(4 * x + i % 4, 4 * y + i / 4);
                low = std::min(low, d);
                high = std::max(high, d);
            }
            if (high - low <= 0.05F * high) continue;
            ++edges;
            before += onSurface(traced.antiAliased, x, y) ? 1 : 0;
            after += onSurface(snapped, x, y) ? 1 : 0;
        }
    score.onSurfaceBefore =
        static_cast<double>(before) / static_cast<double>(std::max<std::size_t>(1, edges));
    score.onSurfaceAfter = static_cast<double>(after) / static_cast<double>(std::max<std::size_t>(1, edges));

    Plane<float> exact(traced.distance.width(), traced.distance.height());
    Plane<float> stored = exact;
    Plane<std::uint8_t> gaps(exact.width(), exact.height());
    for (std::size_t i = 0; i < exact.size(); ++i) {
        const float d = traced.distance.pixels()[i];
        gaps.pixels()[i] = d <= 0.0F ? 1 : 0;
        exact.pixels()[i] = d > 0.0F ? static_cast<float>(1.0 - grey(d, traced, Spacing::distance)) : 0.0F;
        stored.pixels()[i] = quantised(exact.pixels()[i], 255);
    }
    const Plane<float> smooth = depth::smoothedSteps(stored, gaps, 1.0 / 255.0);
    double sumBefore = 0.0;
    double sumAfter = 0.0;
    std::size_t count = 0;
    for (std::size_t i = 0; i < exact.size(); ++i) {
        if (gaps.pixels()[i] != 0) continue;
        ++count;
        sumBefore += std::pow(stored.pixels()[i] - exact.pixels()[i], 2);
        sumAfter += std::pow(smooth.pixels()[i] - exact.pixels()[i], 2);
    }
    score.stepErrorBefore = 255.0 * std::sqrt(sumBefore / static_cast<double>(count));
    score.stepErrorAfter = 255.0 * std::sqrt(sumAfter / static_cast<double>(count));
    return score;
}

DirectionScore printDirectionTable(int width)
{
    DirectionScore score;
    for (const bool heldOut : {false, true}) {
        for (const std::string& scene : scenesOf(heldOut)) {
            Plane<float> distance = trace(scene, width).distance;
            Plane<std::uint8_t> gaps(distance.width(), distance.height());
            float most = 0.0F;
            for (std::size_t i = 0; i < distance.size(); ++i) {
                gaps.pixels()[i] = distance.pixels()[i] <= 0.0F ? 1 : 0;
                most = std::max(most, distance.pixels()[i]);
            }
            const auto right = depth::directionOf(distance, gaps, 1e-7);
            for (float& d : distance.pixels())
                d = 1.05F * most - d;
            const auto wrong = depth::directionOf(distance, gaps, 1e-7);
            ++score.scenes;
            if (right.seemsExchanged()) ++score.falseAlarms;
            if (wrong.seemsExchanged()) ++score.found;
            const auto row = [](const depth::DirectionEvidence& e) {
                return fmt::format(
                    "{:<9} straight {:+.0f} bends {:+.2f} ({:>5}) strips {:+.2f} ({:>4}) ground {:+.2f}",
                    e.seemsExchanged() ? "exchanged" : "-", e.straight, e.bends, e.bendCount, e.strips,
                    e.stripCount, e.ground);
            };
            fmt::print("{:<20} as it is:     {}\n{:<20} turned round: {}\n", scene, row(right), "",
                       row(wrong));
        }
    }
    return score;
}

ReadingScore printReadingTable(bool heldOut, int width, bool onlyWrong)
{
    ReadingScore score;
    for (const ReadingTrial& trial : readingTrials(heldOut, width)) {
        const auto proposal = trial.propose();
        const bool right = trial.agrees(proposal.settings);
        ++score.trials;
        if (right)
            ++score.right;
        else if (proposal.isSure())
            ++score.wrongAndSure;
        else
            ++score.unsure;
        if (right && onlyWrong) continue;
        fmt::print("{:<20} {:<42} {}{:<42} {:>4.2f} {}\n", trial.scene, trial.convention,
                   depth::title(proposal.settings.reading),
                   familyOf(proposal.settings.reading, proposal.settings.spacing), proposal.confidence,
                   right               ? (proposal.isSure() ? "right" : "right, unsure")
                   : proposal.isSure() ? "WRONG"
                                       : "wrong, said to be unsure");
        if (onlyWrong) fmt::print("    {}\n", proposal.inWords());
    }
    return score;
}

} // namespace retinex::bench
